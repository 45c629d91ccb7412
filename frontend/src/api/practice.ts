import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, at, dataOf, type Schemas } from "./client";
import { keyOf, useTouched } from "./touched";

export type Experiment = Schemas["ExperimentDetail"];
export type Body = Experiment["experiment"];
export type Kind = Experiment["kind"];
export type Drill = Schemas["DrillView"]["drill"];

export function useExperiments() {
  return useQuery({
    queryKey: keyOf("experiments"),
    queryFn: async () => dataOf(await api.GET("/api/experiments")).experiments,
  });
}

export function useExperiment(id: number) {
  return useQuery({
    queryKey: keyOf("experiments", id),
    queryFn: async () => dataOf(await api.GET("/api/experiments/{id}", at(id))),
  });
}

export function useProposals() {
  return useQuery({
    queryKey: keyOf("experiment-proposals"),
    queryFn: async () => dataOf(await api.GET("/api/experiment-proposals")),
  });
}

export function useTrianglePower(rounds: number, expected: number) {
  return useQuery({
    queryKey: keyOf("triangle-designs", rounds, expected),
    enabled: rounds >= 1 && rounds <= 60,
    placeholderData: (before: Schemas["TrianglePower"] | undefined) => before,
    queryFn: async () =>
      dataOf(await api.GET("/api/triangle-designs", { params: { query: { rounds, expected_can_tell: expected } } })),
  });
}

/** Writes of experiments: what they answer is shown at once, and lists look again. */
export function useExperimentWrites() {
  const queries = useQueryClient();
  const touched = useTouched("experiments");
  const benchTouched = useTouched("workbenches");
  const show = (e: Experiment) => {
    queries.setQueryData(keyOf("experiments", e.id), e);
    void touched(undefined);
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
        dataOf(await api.PATCH("/api/experiments/{id}", { ...at(id), body })),
      onSuccess: show,
    }),
    answer: useMutation({
      mutationFn: async ({ id, ...body }: Schemas["RoundAnswer"] & { id: number }) =>
        dataOf(await api.POST("/api/experiments/{id}/rounds", { ...at(id), body })),
      onSuccess: show,
    }),
    pour: useMutation({
      mutationFn: async (id: number) =>
        dataOf(await api.POST("/api/experiments/{id}/pouring-sheets", { ...at(id), body: {} })),
      onSuccess: touched,
    }),
    toBench: useMutation({
      mutationFn: async ({ id, choice }: { id: number; choice: string }) =>
        dataOf(await api.POST("/api/experiments/{id}/winner", { ...at(id), body: { choice } })),
      onSuccess: () => benchTouched(undefined),
    }),
    remove: async (id: number) => {
      await api.DELETE("/api/experiments/{id}", at(id));
      // Whoever still shows it must not ask for it again.
      await queries.invalidateQueries({ queryKey: keyOf("experiments"), exact: true });
      await queries.invalidateQueries({ queryKey: keyOf("experiment-proposals") });
    },
    restore: async (id: number) => {
      await touched(dataOf(await api.POST("/api/experiments/{id}/restore", at(id))));
    },
  };
}

export function useDrills() {
  return useQuery({ queryKey: keyOf("drills"), queryFn: async () => dataOf(await api.GET("/api/drills")).drills });
}

export function useDrill(drill: Drill) {
  return useQuery({
    queryKey: keyOf("drills", drill),
    queryFn: async () => dataOf(await api.GET("/api/drills/{drill}", { params: { path: { drill } } })),
  });
}

export function usePourCurves() {
  return useQuery({
    queryKey: keyOf("pour-curves"),
    queryFn: async () => dataOf(await api.GET("/api/pour-curves")).curves,
  });
}

export function useDrillWrites() {
  const touched = useTouched("drills");
  return {
    ask: useMutation({
      mutationFn: async (drill: Schemas["NewQuestion"]["drill"]) =>
        dataOf(await api.POST("/api/drill-questions", { body: { drill } })),
    }),
    answer: useMutation({
      mutationFn: async ({ id, answer }: { id: number; answer: string }) =>
        dataOf(await api.POST("/api/drill-questions/{id}/answers", { ...at(id), body: { answer } })),
      onSuccess: touched,
    }),
    pour: useMutation({
      mutationFn: async (body: Schemas["PourEntry"]) => dataOf(await api.POST("/api/pours", { body })),
      onSuccess: touched,
    }),
    forget: useMutation({
      mutationFn: async (drill: Drill) =>
        dataOf(await api.DELETE("/api/drills/{drill}", { params: { path: { drill } } })),
      onSuccess: touched,
    }),
  };
}
