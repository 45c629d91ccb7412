import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";
import type { paths } from "./schema";

export function useSamples() {
  return useQuery({ queryKey: ["samples"], queryFn: async () => dataOf(await api.GET("/api/samples")).samples });
}

export function useSample(id: number | undefined) {
  return useQuery({
    queryKey: ["sample", id],
    enabled: id !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/samples/{id}", { params: { path: { id: id! } } })),
  });
}

export function useOutlines(sample: number, photos: number, index: number) {
  return useQuery({
    queryKey: ["outlines", sample, photos, index],
    staleTime: Infinity,
    queryFn: async () =>
      dataOf(await api.GET("/api/samples/{id}/photos/{index}/outlines", { params: { path: { id: sample, index } } })),
  });
}

export type CurveChoice = NonNullable<paths["/api/samples/{id}/distribution"]["get"]["parameters"]["query"]>;

/** The size curve of a sample as asked for; the last one stays while the next is on its way. */
export function useDistribution(sample: Schemas["SampleDetail"], choice: CurveChoice) {
  return useQuery({
    queryKey: ["distribution", sample.id, sample.version, choice],
    placeholderData: keepPreviousData,
    queryFn: async () =>
      dataOf(await api.GET("/api/samples/{id}/distribution", { params: { path: { id: sample.id }, query: choice } })),
  });
}

/** Samples laid over each other, the first against the rest. */
export function useComparison(ids: number[]) {
  return useQuery({
    queryKey: ["comparison", ids],
    enabled: ids.length > 1,
    queryFn: async () => dataOf(await api.GET("/api/comparisons", { params: { query: { ids: ids.join(",") } } })),
  });
}

/** What a sieve would leave of a sample. */
export function useSieved(sample: Schemas["SampleDetail"], aperture_um: number, keep: "over" | "under") {
  return useQuery({
    queryKey: ["sieved", sample.id, sample.version, aperture_um, keep],
    enabled: aperture_um > 0,
    retry: false,
    queryFn: async () =>
      dataOf(
        await api.GET("/api/samples/{id}/sieved", {
          params: { path: { id: sample.id }, query: { aperture_um, keep } },
        }),
      ),
  });
}

/** A sample mixed with another, `share` of it. */
export function useMixed(sample: Schemas["SampleDetail"], other: number | null, share: number) {
  return useQuery({
    queryKey: ["mixed", sample.id, sample.version, other, share],
    enabled: other !== null && Number.isFinite(share),
    retry: false,
    queryFn: async () =>
      dataOf(
        await api.GET("/api/samples/{id}/mixed", {
          params: { path: { id: sample.id }, query: { with_id: other!, share } },
        }),
      ),
  });
}

export function useDemoPhotos() {
  return useQuery({
    queryKey: ["demo-photos"],
    queryFn: async () => dataOf(await api.GET("/api/demo-photos")).photos,
  });
}
