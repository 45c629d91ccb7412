import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useSyncExternalStore } from "react";
import { api, at, dataOf, isAway, isTrouble, type Schemas } from "./client";
import { keyOf, useTouched } from "./touched";

/** What was typed and tapped of a cup, as the page holds it. */
export type ToldCup = Required<Schemas["ToldCup"]>;

type Part = Partial<ToldCup>;

const SEND_MS = 150;
const AGAIN_MS = 2000;
const PREFIX = "hakari.told.";

/** What was typed here and the server has not confirmed, by pass; kept on the device, so that a reload loses none. */
const unsent = new Map<number, Part>();
const readers = new Set<() => void>();
const timers = new Map<number, number>();
const lines = new Map<number, Promise<unknown>>();

for (const key of Object.keys(localStorage)) {
  const id = key.startsWith(PREFIX) ? Number(key.slice(PREFIX.length)) : NaN;
  try {
    if (Number.isInteger(id)) unsent.set(id, JSON.parse(localStorage.getItem(key) ?? "{}") as Part);
  } catch {
    localStorage.removeItem(key);
  }
}

function hold(id: number, part: Part | null) {
  const known = part && Object.keys(part).length > 0;
  if (known) unsent.set(id, part);
  else unsent.delete(id);
  if (known) localStorage.setItem(PREFIX + id, JSON.stringify(part));
  else localStorage.removeItem(PREFIX + id);
  readers.forEach((tell) => tell());
}

const watch = (tell: () => void) => {
  readers.add(tell);
  return () => void readers.delete(tell);
};

/** Send what waits of a pass, one after the other, so that an older word never comes last. */
function send(id: number, confirm: (view: Schemas["PassView"]) => void): Promise<unknown> {
  clearTimeout(timers.get(id));
  const one = async () => {
    const part = unsent.get(id);
    if (!part) return;
    try {
      const view = dataOf(await api.PATCH("/api/passes/{id}/told", { ...at(id), body: part as Schemas["ToldCup"] }));
      confirm(view);
      const now = unsent.get(id) ?? {};
      // What was typed meanwhile still waits.
      hold(id, Object.fromEntries(Object.entries(now).filter(([k, v]) => part[k as keyof Part] !== v)) as Part);
    } catch (refusal) {
      if (isAway(refusal) || isTrouble(refusal)) {
        clearTimeout(timers.get(id));
        timers.set(
          id,
          window.setTimeout(() => void send(id, confirm), AGAIN_MS),
        );
        return;
      }
      // A pass that is gone takes no words; they are said to be refused, not sent for ever.
      hold(id, null);
      throw refusal;
    }
  };
  const next = (lines.get(id) ?? Promise.resolve()).catch(() => undefined).then(one);
  lines.set(id, next);
  return next;
}

function sendAllOnLeaving() {
  for (const [id, part] of unsent)
    void fetch(`/api/passes/${id}/told`, {
      method: "PATCH",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(part),
      keepalive: true,
    });
}

/** The cup of a pass, kept as it is typed; what is not confirmed yet goes before what the server knows. */
export function useToldCup(passId: number | null | undefined, known: Schemas["ToldCup"] | null | undefined) {
  const queries = useQueryClient();
  const id = passId ?? 0;
  const waiting = useSyncExternalStore(watch, () => unsent.get(id));
  const confirm = useCallback(
    (view: Schemas["PassView"]) =>
      queries.setQueryData<Schemas["WorkbenchView"]>(keyOf("workbenches"), (bench) =>
        bench?.id === view.id ? { ...bench, told: view.told, state: view.state, version: view.version } : bench,
      ),
    [queries],
  );
  useEffect(() => {
    window.addEventListener("pagehide", sendAllOnLeaving);
    if (unsent.has(id)) void send(id, confirm);
    return () => window.removeEventListener("pagehide", sendAllOnLeaving);
  }, [id, confirm]);
  const told = known || waiting ? ({ ...known, ...waiting } as Part) : null;
  return {
    told,
    tell: useCallback(
      (part: Part) => {
        if (!id) return;
        hold(id, { ...unsent.get(id), ...part });
        clearTimeout(timers.get(id));
        timers.set(
          id,
          window.setTimeout(() => void send(id, confirm), SEND_MS),
        );
      },
      [id, confirm],
    ),
    /** Have all of it with the server before what rests on it is done. */
    settled: useCallback(() => send(id, confirm), [id, confirm]),
    discard: useCallback(async () => {
      clearTimeout(timers.get(id));
      hold(id, null);
      await lines.get(id)?.catch(() => undefined);
      confirm(dataOf(await api.DELETE("/api/passes/{id}/told", at(id))));
    }, [id, confirm]),
  };
}

export function useDiscardedPasses(open: boolean) {
  return useQuery({
    queryKey: keyOf("passes", "discarded"),
    enabled: open,
    queryFn: async () => dataOf(await api.GET("/api/passes", { params: { query: { state: "discarded" } } })).passes,
  });
}

/** Begin, take up, discard and bring back passes. */
export function usePassWrites() {
  const touched = useTouched("workbenches");
  return {
    /** A pass like another one, or like the one at hand. */
    begin: async (like?: number) => touched(dataOf(await api.POST("/api/passes", { body: { like_id: like ?? null } }))),
    takeUp: async (pass_id: number) =>
      touched(dataOf(await api.PATCH("/api/workbenches/current", { body: { pass_id } }))),
    discard: async (id: number) => touched(await api.DELETE("/api/passes/{id}", at(id))),
    restore: async (id: number) => touched(dataOf(await api.POST("/api/passes/{id}/restore", at(id)))),
  };
}
