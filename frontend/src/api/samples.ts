import { useMemo } from "react";
import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, at, dataOf, sendForm, type Schemas } from "./client";
import type { paths } from "./schema";
import { keyOf, useTouched, useTouchedSoon } from "./touched";

/** The samples, newest first, and earlier ones as they are asked for. */
export function useSamples() {
  const query = useInfiniteQuery({
    queryKey: keyOf("samples", "list"),
    initialPageParam: undefined as number | undefined,
    queryFn: async ({ pageParam: before }) => dataOf(await api.GET("/api/samples", { params: { query: { before } } })),
    getNextPageParam: (page) => page.before ?? undefined,
  });
  const pages = query.data?.pages;
  const samples = useMemo(() => pages?.flatMap((page) => page.samples), [pages]);
  return { samples, more: query.hasNextPage, earlier: () => void query.fetchNextPage() };
}

export function useSample(id: number | undefined) {
  return useQuery({
    queryKey: keyOf("samples", id),
    enabled: id !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/samples/{id}", { params: { path: { id: id! } } })),
  });
}

export function useOutlines(sample: number, photos: number, index: number) {
  return useQuery({
    queryKey: keyOf("outlines", sample, photos, index),
    staleTime: Infinity,
    queryFn: async () =>
      dataOf(await api.GET("/api/samples/{id}/photos/{index}/outlines", { params: { path: { id: sample, index } } })),
  });
}

export type CurveChoice = NonNullable<paths["/api/samples/{id}/distribution"]["get"]["parameters"]["query"]>;

/** The size curve of a sample as asked for; the last one stays while the next is on its way. */
export function useDistribution(sample: Schemas["SampleDetail"], choice: CurveChoice) {
  return useQuery({
    queryKey: keyOf("distributions", sample.id, sample.version, choice),
    placeholderData: keepPreviousData,
    queryFn: async () =>
      dataOf(await api.GET("/api/samples/{id}/distribution", { params: { path: { id: sample.id }, query: choice } })),
  });
}

/** Samples laid over each other, the first against the rest. */
export function useComparison(ids: number[]) {
  return useQuery({
    queryKey: keyOf("comparisons", ids),
    enabled: ids.length > 1,
    queryFn: async () => dataOf(await api.GET("/api/comparisons", { params: { query: { ids: ids.join(",") } } })),
  });
}

/** What a sieve would leave of a sample. */
export function useSieved(sample: Schemas["SampleDetail"], aperture_um: number, keep: "over" | "under") {
  return useQuery({
    queryKey: keyOf("distributions", sample.id, sample.version, "sieved", aperture_um, keep),
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
    queryKey: keyOf("distributions", sample.id, sample.version, "mixed", other, share),
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
    queryKey: keyOf("demo-photos"),
    queryFn: async () => dataOf(await api.GET("/api/demo-photos")).photos,
  });
}

/** Writes of samples and of the grounds that were counted in them. */
export function useSampleWrites() {
  const queries = useQueryClient();
  const touched = useTouched("samples");
  const soon = useTouchedSoon("samples");
  const show = (sample: Schemas["SampleDetail"]) => {
    queries.setQueryData(keyOf("samples", sample.id), sample);
    return soon(sample);
  };
  return {
    /** At which setting of which grinder it was ground. */
    place: async (id: number, grinder_id: number, setting: string) =>
      touched(dataOf(await api.PATCH("/api/samples/{id}", { ...at(id), body: { grinder_id, setting } }))),
    correct: async (id: number, body: Schemas["Correction"]) =>
      show(dataOf(await api.POST("/api/samples/{id}/edits", { ...at(id), body }))),
    undo: async (id: number, edit_id: number) =>
      show(dataOf(await api.POST("/api/samples/{id}/edits/{edit_id}/undo", { params: { path: { id, edit_id } } }))),
    redo: async (id: number, edit_id: number) =>
      show(dataOf(await api.POST("/api/samples/{id}/edits/{edit_id}/redo", { params: { path: { id, edit_id } } }))),
    readTable: async (table: File) => {
      const form = new FormData();
      form.append("table", table);
      return touched(await sendForm<Schemas["SampleDetail"]>("/api/distributions", form));
    },
    addSieving: async (body: Schemas["SieveMasses"]) => touched(dataOf(await api.POST("/api/sievings", { body }))),
    measureDemoPhoto: async (name: string) => touched(dataOf(await api.POST("/api/demo-photos", { body: { name } }))),
    remove: async (id: number) => {
      await api.DELETE("/api/samples/{id}", at(id));
      await touched(undefined);
    },
    restore: async (id: number) => touched(dataOf(await api.POST("/api/samples/{id}/restore", at(id)))),
  };
}
