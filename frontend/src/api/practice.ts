import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";

export type Experiment = Schemas["ExperimentDetail"];
export type Body = Experiment["experiment"];
export type Kind = Experiment["kind"];
export type Drill = Schemas["DrillView"]["drill"];

const EXPERIMENTS = ["experiments"] as const;
const DRILLS = ["drills"] as const;
const path = (id: number) => ({ params: { path: { id } } });

export function useExperiments() {
  return useQuery({
    queryKey: EXPERIMENTS,
    queryFn: async () => dataOf(await api.GET("/api/experiments")).experiments,
  });
}

export function useExperiment(id: number) {
  return useQuery({
    queryKey: [...EXPERIMENTS, id],
    queryFn: async () => dataOf(await api.GET("/api/experiments/{id}", path(id))),
  });
}

export function useProposals() {
  return useQuery({
    queryKey: ["experiment-proposals"],
    queryFn: async () => dataOf(await api.GET("/api/experiment-proposals")),
  });
}

export function useTrianglePower(rounds: number, expected: number) {
  return useQuery({
    queryKey: ["triangle-designs", rounds, expected],
    enabled: rounds >= 1 && rounds <= 60,
    placeholderData: (before: Schemas["TrianglePower"] | undefined) => before,
    queryFn: async () =>
      dataOf(await api.GET("/api/triangle-designs", { params: { query: { rounds, expected_can_tell: expected } } })),
  });
}

/** Writes of experiments: what they answer is shown at once, and lists look again. */
export function useExperimentWrites() {
  const queries = useQueryClient();
  const show = (e: Experiment) => {
    queries.setQueryData([...EXPERIMENTS, e.id], e);
    void queries.invalidateQueries({ queryKey: EXPERIMENTS, exact: true });
  };
  return {
    begin: useMutation({
      mutationFn: async (body: Schemas["NewExperiment"]) => dataOf(await api.POST("/api/experiments", { body })),
      onSuccess: show,
    }),
    change: useMutation({
      // One after the other, so that an older change never comes last.
      scope: { id: "experiment" },
      mutationFn: async ({ id, ...body }: Schemas["ExperimentChange"] & { id: number }) =>
        dataOf(await api.PATCH("/api/experiments/{id}", { ...path(id), body })),
      onSuccess: show,
    }),
    answer: useMutation({
      mutationFn: async ({ id, ...body }: Schemas["RoundAnswer"] & { id: number }) =>
        dataOf(await api.POST("/api/experiments/{id}/rounds", { ...path(id), body })),
      onSuccess: show,
    }),
    pour: useMutation({
      mutationFn: async (id: number) =>
        dataOf(await api.POST("/api/experiments/{id}/pouring-sheets", { ...path(id), body: {} })),
      onSuccess: (_, id) => queries.invalidateQueries({ queryKey: [...EXPERIMENTS, id] }),
    }),
    toBench: useMutation({
      mutationFn: async ({ id, choice }: { id: number; choice: string }) =>
        dataOf(await api.POST("/api/experiments/{id}/winner", { ...path(id), body: { choice } })),
      onSuccess: () => queries.invalidateQueries(),
    }),
    remove: async (id: number) => {
      await api.DELETE("/api/experiments/{id}", path(id));
      await queries.invalidateQueries({ queryKey: EXPERIMENTS, exact: true });
    },
    restore: async (id: number) => {
      dataOf(await api.POST("/api/experiments/{id}/restore", path(id)));
      await queries.invalidateQueries({ queryKey: EXPERIMENTS });
    },
  };
}

export function useDrills() {
  return useQuery({ queryKey: DRILLS, queryFn: async () => dataOf(await api.GET("/api/drills")).drills });
}

export function useDrill(drill: Drill) {
  return useQuery({
    queryKey: [...DRILLS, drill],
    queryFn: async () => dataOf(await api.GET("/api/drills/{drill}", { params: { path: { drill } } })),
  });
}

export function usePourCurves() {
  return useQuery({
    queryKey: ["pour-curves"],
    queryFn: async () => dataOf(await api.GET("/api/pour-curves")).curves,
  });
}

export function useDrillWrites() {
  const queries = useQueryClient();
  const look = () => queries.invalidateQueries({ queryKey: DRILLS });
  return {
    ask: useMutation({
      mutationFn: async (drill: Schemas["NewQuestion"]["drill"]) =>
        dataOf(await api.POST("/api/drill-questions", { body: { drill } })),
    }),
    answer: useMutation({
      mutationFn: async ({ id, answer }: { id: number; answer: string }) =>
        dataOf(await api.POST("/api/drill-questions/{id}/answers", { ...path(id), body: { answer } })),
      onSuccess: look,
    }),
    pour: useMutation({
      mutationFn: async (body: Schemas["PourEntry"]) => dataOf(await api.POST("/api/pours", { body })),
      onSuccess: look,
    }),
    forget: useMutation({
      mutationFn: async (drill: Drill) =>
        dataOf(await api.DELETE("/api/drills/{drill}", { params: { path: { drill } } })),
      onSuccess: look,
    }),
  };
}
