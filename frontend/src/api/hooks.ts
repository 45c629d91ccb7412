import { useCallback, useEffect } from "react";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";
import type { paths } from "./schema";

export function useWorkbench() {
  return useQuery({ queryKey: ["bench"], queryFn: async () => dataOf(await api.GET("/api/workbenches/current")) });
}

export function useCoffees() {
  return useQuery({ queryKey: ["coffees"], queryFn: async () => dataOf(await api.GET("/api/coffees")).coffees });
}

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

export function useGrinders() {
  return useQuery({ queryKey: ["grinders"], queryFn: async () => dataOf(await api.GET("/api/grinders")).grinders });
}

export type Ask = NonNullable<paths["/api/translations"]["get"]["parameters"]["query"]>;

/** What a grind is on every dial; the last answer stays while the next is on its way. */
export function useTranslations(ask: Ask, enabled: boolean) {
  return useQuery({
    queryKey: ["translations", ask],
    enabled,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.GET("/api/translations", { params: { query: ask } })),
  });
}

export function useGuide() {
  return useQuery({ queryKey: ["guide"], queryFn: async () => dataOf(await api.GET("/api/windows")) });
}

export function useSlips() {
  return useQuery({ queryKey: ["slips"], queryFn: async () => dataOf(await api.GET("/api/slips")).slips });
}

/** Change what is on the bench; everything that shows it looks again. */
export function useChangeWorkbench() {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: async (change: Schemas["WorkbenchChange"]) =>
      dataOf(await api.PATCH("/api/workbenches/current", { body: change })),
    onSuccess: refresh,
  });
}

const STAYING = ["bench-now", "outlines", "plan-preview", "plan-match", "cup-preview", "draft"];

/** Ask again for everything that a write may have changed; pictures and outlines stay. */
export function useRefresh() {
  const queries = useQueryClient();
  return useCallback(
    () => queries.invalidateQueries({ predicate: (q) => !STAYING.includes(String(q.queryKey[0])) }),
    [queries],
  );
}

/** How soon what another device changed is looked for. */
const LOOK_MS = 1000;

/**
 * What another device at this counter changes is seen here within a second: a photo from the phone, a plan, a brew. What is
 * being typed at the open station is about what was at hand when it was begun, so that stays until it is saved or discarded.
 */
export function useSeeChanges(station: string) {
  const queries = useQueryClient();
  const refresh = useRefresh();
  const shown = useWorkbench().data;
  // A question of its own: while the server is away, what is on the page stays.
  const now = useQuery({
    queryKey: ["bench-now"],
    refetchInterval: LOOK_MS,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/workbenches/current")),
  }).data;
  useEffect(() => {
    const typing = queries.getQueryData<{ fields: unknown }>(["draft", station])?.fields;
    // What this page did itself it has asked for already.
    if (!typing && now && shown && stateOf(now) !== stateOf(shown)) void refresh();
  }, [now, shown, station, queries, refresh]);
}

const stateOf = ({ counter, version, sample, brew, slips }: Schemas["WorkbenchView"]) =>
  JSON.stringify([counter, version, sample?.photos, sample?.d50_um, brew, slips]);
