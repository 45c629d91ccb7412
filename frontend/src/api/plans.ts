import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, at, dataOf, fileBody, ofPass, type Schemas } from "./client";
import { keyOf, useTouched, useTouchedSoon } from "./touched";

const SETTLED_MS = 60_000; // a preview of the same recipe and grind is the same

export function useMethods() {
  return useQuery({
    queryKey: keyOf("methods"),
    staleTime: Infinity,
    queryFn: async () => dataOf(await api.GET("/api/methods")),
  });
}

export function usePlan(planId: number | undefined) {
  return useQuery({
    queryKey: keyOf("plans", planId),
    enabled: planId !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/plans/{id}", { params: { path: { id: planId! } } })),
  });
}

/** The pass that is planned, and what is chosen for it in a word. */
export interface Grind {
  pass: number | null;
  chosen: string;
}

type RecipeOf<Typed> = (typed: Typed) => Schemas["Recipe"];

// What was typed may be no recipe yet: that is found, and said, where the answer would be.
const previewOf = <Typed>(typed: Typed, recipeOf: RecipeOf<Typed>, grind: Grind) => ({
  queryKey: keyOf("plan-previews", typed, grind),
  retry: false,
  queryFn: async () => dataOf(await api.POST("/api/plans/preview", { ...ofPass(grind.pass), body: recipeOf(typed) })),
});

/** What is typed would do with the grind at hand; the last answer stays while the next is on its way. */
export function usePlanPreview<Typed>(typed: Typed, recipeOf: RecipeOf<Typed>, grind: Grind, enabled: boolean) {
  return useQuery({ ...previewOf(typed, recipeOf, grind), enabled, placeholderData: keepPreviousData });
}

/** Ask for the same, where the answer is waited for. */
export function useAskForPreview<Typed>(recipeOf: RecipeOf<Typed>, grind: Grind) {
  const queries = useQueryClient();
  return (typed: Typed) => queries.fetchQuery({ ...previewOf(typed, recipeOf, grind), staleTime: SETTLED_MS });
}

/** What is chosen for a pass, in a word: its plans are asked for again where that is another. */
export const grindOf = (at: Schemas["WorkbenchView"] | undefined): Grind => ({
  pass: at?.id ?? null,
  chosen: [at?.sample?.id, at?.photo_setting, at?.grinder?.id, at?.grinder?.setting, at?.coffee?.id].join("/"),
});

/** What suits a recipe: grinds, brewers, times. */
export function usePlanMatch(recipe: Schemas["Recipe"], open: boolean) {
  return useQuery({
    queryKey: keyOf("plan-matches", recipe),
    enabled: open,
    retry: false,
    queryFn: async () => dataOf(await api.POST("/api/plans/match", { body: recipe })),
  });
}

/** What one step finer or coarser on the dial would do to a recipe. */
export function useSettingSteps(recipe: Schemas["Recipe"] | undefined, grind: Grind, enabled = true) {
  return useQuery({
    queryKey: keyOf("plan-matches", "steps", recipe, grind),
    enabled: enabled && recipe !== undefined,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.POST("/api/plans/setting-steps", { ...ofPass(grind.pass), body: recipe! })),
  });
}

export function useRecipes(open: boolean) {
  return useQuery({
    queryKey: keyOf("recipes"),
    enabled: open,
    queryFn: async () => dataOf(await api.GET("/api/recipes")).recipes,
  });
}

export function usePlanWrites() {
  const touched = useTouched("plans");
  return {
    save: async (passId: number | null, body: Schemas["Recipe"]) =>
      touched(dataOf(await api.POST("/api/plans", { ...ofPass(passId), body }))),
  };
}

/** Writes of recipes kept under a name. */
export function useRecipeWrites() {
  const touched = useTouched("recipes");
  const soon = useTouchedSoon("recipes");
  return {
    keep: async (name: string, recipe: Schemas["Recipe"]) =>
      soon(dataOf(await api.POST("/api/recipes", { body: { name, recipe } }))),
    read: async (file: File) => touched(dataOf(await api.POST("/api/recipes/import", await fileBody(file)))),
    remove: async (id: number) => soon(await api.DELETE("/api/recipes/{id}", at(id))),
    restore: async (id: number) => touched(dataOf(await api.POST("/api/recipes/{id}/restore", at(id)))),
  };
}

/** Writes of brewers of one's own. */
export function useBrewerWrites() {
  const touched = useTouched("brewers");
  return {
    keep: async (body: Schemas["NewBrewer"]) => touched(dataOf(await api.POST("/api/brewers", { body }))),
    remove: async (id: number) => {
      await api.DELETE("/api/brewers/{id}", at(id));
      await touched(undefined);
    },
    restore: async (id: number) => touched(dataOf(await api.POST("/api/brewers/{id}/restore", at(id)))),
  };
}
