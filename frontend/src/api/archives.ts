import { sendWithProgress, type Schemas } from "./client";
import { useRefresh } from "./touched";

/** Read a back-up; `onSent` is called with the share that has arrived, 0 to 1. */
export function useReadArchive() {
  const refresh = useRefresh();
  return async (archive: File, onSent: (share: number) => void) => {
    const form = new FormData();
    form.append("archive", archive);
    const read = await sendWithProgress<Schemas["Imported"]>(
      "/api/archives",
      form,
      onSent,
      "The back-up did not arrive.",
    );
    await refresh();
    return read;
  };
}
