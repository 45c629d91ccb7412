import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, at, dataOf, ofPass, type Schemas } from "./client";
import { keyOf, useTouched, useTouchedSoon } from "./touched";

/** The slips that a search finds, oldest first: the newest of them, and earlier ones as they are asked for. */
export function useSlips(search = "", order: "newest" | "liked" = "newest") {
  const query = useInfiniteQuery({
    queryKey: keyOf("slips", "list", search, order),
    initialPageParam: undefined as number | undefined,
    placeholderData: keepPreviousData,
    queryFn: async ({ pageParam: before }) =>
      dataOf(await api.GET("/api/slips", { params: { query: { search, order, before } } })),
    getNextPageParam: (page) => page.before ?? undefined,
  });
  const pages = query.data?.pages;
  const slips = useMemo(() => pages && [...pages].reverse().flatMap((page) => page.slips), [pages]);
  return { query, slips, total: pages?.[0]?.total ?? 0, earlier: () => void query.fetchNextPage() };
}

export function useSlip(slipId: number | undefined) {
  return useQuery({
    queryKey: keyOf("slips", slipId),
    enabled: slipId !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/slips/{id}", { params: { path: { id: slipId! } } })),
  });
}

/** A coffee's slips over its months, for a picture. */
export function useSlipsOverTime(coffee: string, open: boolean) {
  return useQuery({
    queryKey: keyOf("slips", "over-time", coffee),
    enabled: open,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.GET("/api/slips/over-time", { params: { query: { coffee } } })),
  });
}

/** What one step finer or coarser would do to the brew of a slip. */
export function useSlipSteps(slipId: number | undefined) {
  return useQuery({
    queryKey: keyOf("slips", slipId, "steps"),
    enabled: slipId !== undefined,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.GET("/api/slips/{id}/setting-steps", at(slipId!))),
  });
}

export function useSlipWrites() {
  const touched = useTouched("slips");
  const soon = useTouchedSoon("slips");
  return {
    /** A cup that was judged becomes a slip. */
    keep: async (passId: number | null, body: Schemas["NewSlip"]) =>
      touched(dataOf(await api.POST("/api/slips", { ...ofPass(passId), body }))),
    /** Plan the next brew: one of the moves that the slip proposed, or the same again, at another setting where one is given. */
    brew: async (id: number, move: number | "again", setting?: string) =>
      touched(
        dataOf(
          await api.POST("/api/slips/{id}/brew", { ...at(id), body: { move: move === "again" ? -1 : move, setting } }),
        ),
      ),
    remove: async (id: number) => soon(await api.DELETE("/api/slips/{id}", at(id))),
    restore: async (id: number) => touched(dataOf(await api.POST("/api/slips/{id}/restore", at(id)))),
  };
}
