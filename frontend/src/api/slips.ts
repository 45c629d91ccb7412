import { useQuery } from "@tanstack/react-query";
import { api, dataOf } from "./client";

export function useSlips() {
  return useQuery({ queryKey: ["slips"], queryFn: async () => dataOf(await api.GET("/api/slips")).slips });
}

export function useSlip(slipId: number | undefined) {
  return useQuery({
    queryKey: ["slip", slipId],
    enabled: slipId !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/slips/{id}", { params: { path: { id: slipId! } } })),
  });
}
