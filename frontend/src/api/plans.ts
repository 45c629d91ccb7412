import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";

const SETTLED_MS = 60_000; // a preview of the same recipe and grind is the same

export function useMethods() {
  return useQuery({
    queryKey: ["methods"],
    staleTime: Infinity,
    queryFn: async () => dataOf(await api.GET("/api/methods")),
  });
}

export function usePlan(planId: number | undefined) {
  return useQuery({
    queryKey: ["plan", planId],
    enabled: planId !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/plans/{id}", { params: { path: { id: planId! } } })),
  });
}

type RecipeOf<Typed> = (typed: Typed) => Schemas["Recipe"];

// What was typed may be no recipe yet: that is found, and said, where the answer would be.
const previewOf = <Typed>(typed: Typed, recipeOf: RecipeOf<Typed>, grind: string) => ({
  queryKey: ["plan-preview", typed, grind],
  retry: false,
  queryFn: async () => dataOf(await api.POST("/api/plans/preview", { body: recipeOf(typed) })),
});

/** What is typed would do with the grind at hand; the last answer stays while the next is on its way. */
export function usePlanPreview<Typed>(typed: Typed, recipeOf: RecipeOf<Typed>, grind: string, enabled: boolean) {
  return useQuery({ ...previewOf(typed, recipeOf, grind), enabled, placeholderData: keepPreviousData });
}

/** Ask for the same, where the answer is waited for. */
export function useAskForPreview<Typed>(recipeOf: RecipeOf<Typed>, grind: string) {
  const queries = useQueryClient();
  return (typed: Typed) => queries.fetchQuery({ ...previewOf(typed, recipeOf, grind), staleTime: SETTLED_MS });
}

/** What suits a recipe: grinds, brewers, times. */
export function usePlanMatch(recipe: Schemas["Recipe"], open: boolean) {
  return useQuery({
    queryKey: ["plan-match", recipe],
    enabled: open,
    retry: false,
    queryFn: async () => dataOf(await api.POST("/api/plans/match", { body: recipe })),
  });
}

export function useRecipes(open: boolean) {
  return useQuery({
    queryKey: ["recipes"],
    enabled: open,
    queryFn: async () => dataOf(await api.GET("/api/recipes")).recipes,
  });
}
