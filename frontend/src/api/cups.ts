import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";

/** What a cup says, as it is typed (JSON of a `CupEntry`); the last answer stays while the next is on its way. */
export function useCupPreview(planId: number | undefined, entry: string) {
  return useQuery({
    queryKey: ["cup-preview", planId, entry],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () =>
      dataOf(await api.POST("/api/cups/preview", { body: JSON.parse(entry) as Schemas["CupEntry"] })),
  });
}

/** What earlier slips taught of the size of changes. */
export function useLearning() {
  return useQuery({
    queryKey: ["learning"],
    queryFn: async () => dataOf(await api.GET("/api/cups/learning")),
  });
}
