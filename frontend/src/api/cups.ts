import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, dataOf, ofPass, type Schemas } from "./client";
import { keyOf, useTouched } from "./touched";

type CupOf = Pick<Schemas["PassView"], "id" | "plan">;

/** What a cup says, as it is typed (JSON of a `CupEntry`); the last answer stays while the next is on its way. */
export function useCupPreview(pass: CupOf, entry: string) {
  return useQuery({
    queryKey: keyOf("cup-previews", pass.id, pass.plan?.id, entry),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () =>
      dataOf(
        await api.POST("/api/cups/preview", { ...ofPass(pass.id), body: JSON.parse(entry) as Schemas["CupEntry"] }),
      ),
  });
}

/** What earlier slips taught of the size of changes. */
export function useLearning() {
  return useQuery({
    queryKey: keyOf("learning"),
    queryFn: async () => dataOf(await api.GET("/api/cups/learning")),
  });
}

/** Learn from slips after this one alone; from all of them where it is left out. */
export function useLearnAfter() {
  const touched = useTouched("learning");
  return async (learns_after: number | null) =>
    touched(dataOf(await api.POST("/api/cups/learning", { body: { learns_after } })));
}
