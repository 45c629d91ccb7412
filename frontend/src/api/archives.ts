import { sendWithProgress, type Schemas } from "./client";
import { useRefresh } from "./touched";

/** Read a back-up; `existing` is what becomes of entries that differ here, `onSent` hears the share that has arrived, 0 to 1. */
export function useReadArchive() {
  const refresh = useRefresh();
  return async (archive: File, existing: "keep" | "replace", onSent: (share: number) => void) => {
    const form = new FormData();
    form.append("archive", archive);
    form.append("existing", existing);
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
