import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";
import type { paths } from "./schema";

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

/** The table for the wall; of all methods where none is chosen. */
export function useSettingCard(methods: string[] | null, open: boolean) {
  const query = methods ? { methods: methods.join("|") } : {};
  return useQuery({
    queryKey: ["setting-card", methods],
    enabled: open,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/setting-cards", { params: { query } })),
  });
}

/** How a dial that is being typed would be read. */
export function useDialPreview(dial: Schemas["DialBody"]["dial"]) {
  return useQuery({
    queryKey: ["dial", dial],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.POST("/api/dials/preview", { body: { dial } })),
  });
}
