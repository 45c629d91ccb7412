import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, at, dataOf, fileBody, type Schemas } from "./client";
import type { paths } from "./schema";
import { keyOf, useTouched, useTouchedSoon } from "./touched";

export function useGrinders() {
  return useQuery({
    queryKey: keyOf("grinders"),
    queryFn: async () => dataOf(await api.GET("/api/grinders")).grinders,
  });
}

export type Ask = NonNullable<paths["/api/translations"]["get"]["parameters"]["query"]>;

/** What a grind is on every dial; the last answer stays while the next is on its way. */
export function useTranslations(ask: Ask, enabled: boolean) {
  return useQuery({
    queryKey: keyOf("translations", ask),
    enabled,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.GET("/api/translations", { params: { query: ask } })),
  });
}

export function useGuide() {
  return useQuery({ queryKey: keyOf("guide"), queryFn: async () => dataOf(await api.GET("/api/windows")) });
}

/** The table for the wall; of all methods where none is chosen. */
export function useSettingCard(methods: string[] | null, open: boolean) {
  const query = methods ? { methods: methods.join("|") } : {};
  return useQuery({
    queryKey: keyOf("setting-cards", methods),
    enabled: open,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/setting-cards", { params: { query } })),
  });
}

/** How a dial that is being typed would be read. */
export function useDialPreview(dial: Schemas["DialBody"]["dial"]) {
  return useQuery({
    queryKey: keyOf("dials", dial),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.POST("/api/dials/preview", { body: { dial } })),
  });
}

/** What a habit's words mean, while they are typed. */
export function useHabit(grinderId: number, words: string, label: string | null) {
  return useQuery({
    queryKey: keyOf("dials", "habit", grinderId, words, label),
    enabled: words.trim().length > 0,
    retry: false,
    queryFn: async () =>
      dataOf(await api.POST("/api/grinders/{id}/habits/preview", { ...at(grinderId), body: { words, label } })),
  });
}

/** Writes of grinders and of what their curves rest on. */
export function useGrinderWrites() {
  const touched = useTouched("grinders");
  const soon = useTouchedSoon("grinders");
  const gone = async (deletion: Promise<unknown>) => {
    await deletion;
    await touched(undefined);
  };
  return {
    add: async (body: Schemas["NewGrinder"]) => touched(dataOf(await api.POST("/api/grinders", { body }))),
    change: async (id: number, body: Schemas["GrinderChange"]) =>
      touched(dataOf(await api.PATCH("/api/grinders/{id}", { ...at(id), body }))),
    read: async (file: File) => touched(dataOf(await api.POST("/api/grinders/import", await fileBody(file)))),
    remove: async (id: number) => soon(await api.DELETE("/api/grinders/{id}", at(id))),
    restore: async (id: number) => touched(dataOf(await api.POST("/api/grinders/{id}/restore", at(id)))),

    addPoint: async (id: number, body: Schemas["NewPoint"]) =>
      soon(dataOf(await api.POST("/api/grinders/{id}/points", { ...at(id), body }))),
    /** A setting that is known from use: "I brew my cone at 22". */
    addHabit: async (id: number, words: string, label: string | null) =>
      soon(dataOf(await api.POST("/api/grinders/{id}/habits", { ...at(id), body: { words, label } }))),
    usePoint: async (id: number, used: boolean) =>
      touched(dataOf(await api.PATCH("/api/points/{id}", { ...at(id), body: { used } }))),
    removePoint: (id: number) => gone(api.DELETE("/api/points/{id}", at(id))),
    restorePoint: async (id: number) => touched(dataOf(await api.POST("/api/points/{id}/restore", at(id)))),

    addEquivalence: async (id: number, body: Schemas["NewSettingEquivalence"]) =>
      soon(dataOf(await api.POST("/api/grinders/{id}/equivalences", { ...at(id), body }))),
    removeEquivalence: (id: number) => gone(api.DELETE("/api/equivalences/{id}", at(id))),
    restoreEquivalence: async (id: number) => touched(dataOf(await api.POST("/api/equivalences/{id}/restore", at(id)))),

    beginEra: async (id: number, reason: Schemas["NewEra"]["reason"]) =>
      soon(dataOf(await api.POST("/api/grinders/{id}/eras", { ...at(id), body: { reason } }))),
    removeEra: (id: number) => gone(api.DELETE("/api/eras/{id}", at(id))),
  };
}

/** Writes of one's own windows of grind. */
export function useWindowWrites() {
  const soon = useTouchedSoon("windows");
  return {
    keep: async (body: Schemas["OwnWindowEntry"]) => soon(dataOf(await api.PUT("/api/windows", { body }))),
    /** Back to the window that Hakari starts with. */
    reset: async (label: string) => {
      soon(await api.DELETE("/api/windows", { params: { query: { label } } }));
    },
  };
}
