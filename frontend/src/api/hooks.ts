import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";

export function useBench() {
  return useQuery({ queryKey: ["bench"], queryFn: async () => dataOf(await api.GET("/api/bench")) });
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

export function useOutlines(sample: number, index: number) {
  return useQuery({
    queryKey: ["outlines", sample, index],
    staleTime: Infinity,
    queryFn: async () =>
      dataOf(await api.GET("/api/samples/{id}/photos/{index}/outlines", { params: { path: { id: sample, index } } })),
  });
}

export function useGrinders() {
  return useQuery({ queryKey: ["grinders"], queryFn: async () => dataOf(await api.GET("/api/grinders")).grinders });
}

export function useTranslation(to: number | undefined, sample: number | undefined) {
  return useQuery({
    queryKey: ["translation", to, sample],
    enabled: to !== undefined && sample !== undefined,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/translate", { params: { query: { to: to!, sample_id: sample } } })),
  });
}

export function useSlips() {
  return useQuery({ queryKey: ["slips"], queryFn: async () => dataOf(await api.GET("/api/slips")).slips });
}

/** Change what is on the bench; everything that shows it looks again. */
export function useChangeBench() {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: async (change: Schemas["BenchChange"]) => dataOf(await api.PATCH("/api/bench", { body: change })),
    onSuccess: refresh,
  });
}

/** Ask again for everything that a write may have changed; pictures and outlines stay. */
export function useRefresh() {
  const queries = useQueryClient();
  return () =>
    queries.invalidateQueries({ predicate: (q) => !["outlines", "plan-preview", "cup-preview"].includes(String(q.queryKey[0])) });
}
