import { useQuery } from "@tanstack/react-query";
import { api, dataOf } from "../../api/client";
import { heardAt } from "../../api/reach";
import type { KeptBrew } from "./useLiveBrew";

/** The plan of the brew. */
export function usePlan(planId: number | undefined) {
  return useQuery({
    queryKey: ["plan", planId],
    enabled: planId !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/plans/{id}", { params: { path: { id: planId! } } })),
  });
}

/** The brew as it was when it was last heard. */
export function useBrew(brewId: number | undefined) {
  return useQuery({
    queryKey: ["brew", brewId],
    enabled: brewId !== undefined,
    queryFn: async (): Promise<KeptBrew> => {
      const answer = await api.GET("/api/brews/{id}", { params: { path: { id: brewId! } } });
      return { ...dataOf(answer), heard_at: heardAt(answer.response) };
    },
  });
}
