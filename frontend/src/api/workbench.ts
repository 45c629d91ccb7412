import { useEffect } from "react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";
import { keyOf, useRefresh, useTouched } from "./touched";

export function useWorkbench(enabled = true) {
  return useQuery({
    queryKey: keyOf("workbenches"),
    enabled,
    queryFn: async () => dataOf(await api.GET("/api/workbenches/current")),
  });
}

/** Change what is on the bench; everything that shows it looks again. */
export function useChangeWorkbench() {
  const touched = useTouched("workbenches");
  return useMutation({
    mutationFn: async (change: Schemas["WorkbenchChange"]) =>
      dataOf(await api.PATCH("/api/workbenches/current", { body: change })),
    onSuccess: touched,
  });
}

/** How soon what another device changed is looked for. */
const LOOK_MS = 1000;

/**
 * What another device at this counter changes is seen here within a second: a photo from the phone, a plan, a brew. What is
 * being typed at the open station is about what was at hand when it was begun, so that stays until it is saved or discarded.
 */
export function useSeeChanges(station: string) {
  const queries = useQueryClient();
  const refresh = useRefresh();
  const shown = useWorkbench().data;
  const now = useOpenPasses().data;
  useEffect(() => {
    const typing = queries.getQueryData<{ fields: unknown }>(keyOf("drafts", station))?.fields;
    // A cup that is being tasted stays in sight, whatever else is taken up meanwhile.
    const tasting = station === "cup" && shown?.told != null && now?.id !== shown.id;
    // What this page did itself it has asked for already.
    if (!typing && !tasting && now && shown && stateOf(now) !== stateOf(shown)) void refresh();
  }, [now, shown, station, queries, refresh]);
}

/** The pass at hand as it stands, without the clocks beside it; the tastes of its cup are taken over where it is shown. */
const stateOf = ({ open, ...view }: Schemas["WorkbenchView"]) =>
  JSON.stringify([view, open.map((p) => [p.id, p.state])]);

/** The bench as it is now, looked for each second: what runs and what waits beside the pass at hand. */
export function useOpenPasses() {
  // A question of its own: while the server is away, what is on the page stays.
  return useQuery({
    queryKey: keyOf("workbenches-now"),
    refetchInterval: LOOK_MS,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/workbenches/current")),
  });
}
