import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { api, dataOf } from "./client";
import type { paths } from "./schema";
import { keyOf } from "./touched";

export type Station = paths["/api/drafts/{station}"]["put"]["parameters"]["path"]["station"];

const SEND_MS = 150;
const KEY = "hakari.device";

/** The name that this device gave itself. */
export function deviceName(): string {
  const kept = localStorage.getItem(KEY);
  if (kept) return kept;
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  const made = [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("");
  localStorage.setItem(KEY, made);
  return made;
}

interface Held {
  about: string;
  fields: unknown;
}

/** What is still on its way to the server, by station. */
const waiting = new Map<Station, { held: Held; timer: number }>();

/** Writes go one after the other, so that an older one never comes last. */
let line: Promise<unknown> = Promise.resolve();

const unsentKey = (station: Station) => `hakari.draft.${station}`;

/** A draft that the server does not have yet, kept on the device. */
function unsent(station: Station): Held | null {
  try {
    return JSON.parse(localStorage.getItem(unsentKey(station)) ?? "null") as Held | null;
  } catch {
    return null;
  }
}

async function put(station: Station, held: Held, keepalive = false) {
  try {
    await fetch(`/api/drafts/${station}`, {
      method: "PUT",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ device: deviceName(), ...held }),
      keepalive,
    });
    localStorage.removeItem(unsentKey(station));
  } catch {
    // A server that is away gets it when it is heard again.
    localStorage.setItem(unsentKey(station), JSON.stringify(held));
  }
}

/** Send what the server missed; nothing of it is older than what is being typed. */
export function sendUnsentDrafts() {
  for (const key of Object.keys(localStorage)) {
    const station = key.replace(/^hakari\.draft\./, "") as Station;
    const held = key === unsentKey(station) && !waiting.has(station) ? unsent(station) : null;
    if (held) line = line.then(() => put(station, held));
  }
}

function later(station: Station, held: Held) {
  const before = waiting.get(station);
  if (before) clearTimeout(before.timer);
  const timer = window.setTimeout(() => {
    waiting.delete(station);
    line = line.then(() => put(station, held));
  }, SEND_MS);
  waiting.set(station, { held, timer });
}

/** A page that is being left sends what is still waiting. */
function sendAll() {
  for (const [station, { held, timer }] of waiting) {
    clearTimeout(timer);
    void put(station, held, true);
  }
  waiting.clear();
}

/**
 * What was typed here and is not saved: kept on the server at once, and there again after leaving, reloading or a
 * restart. A draft about something else is `other`, which stays until something is typed here.
 */
export function useDraft<T extends object>(station: Station, about: string | undefined) {
  const queries = useQueryClient();
  const query = useQuery({
    queryKey: keyOf("drafts", station),
    staleTime: Infinity,
    gcTime: Infinity,
    queryFn: async (): Promise<Held> => {
      const here = unsent(station);
      if (here) return here;
      const found = await api.GET("/api/drafts/{station}", {
        params: { path: { station }, query: { device: deviceName() } },
      });
      const draft = dataOf(found);
      return { about: draft.about ?? "", fields: draft.fields ?? null };
    },
  });
  // A field must show a key at once, or quick typing loses letters; the cache tells its readers a moment later.
  const [typed, setTyped] = useState<Held | null>(null);
  useEffect(() => {
    window.addEventListener("pagehide", sendAll);
    return () => window.removeEventListener("pagehide", sendAll);
  }, []);
  const keep = useCallback(
    (fields: T) => {
      if (about === undefined) return;
      const held = { about, fields };
      // What is still on its way here is older than what is being typed.
      void queries.cancelQueries({ queryKey: keyOf("drafts", station) });
      setTyped(held);
      queries.setQueryData(keyOf("drafts", station), held);
      later(station, held);
    },
    [queries, station, about],
  );
  const discard = useCallback(async () => {
    const before = waiting.get(station);
    if (before) clearTimeout(before.timer);
    waiting.delete(station);
    localStorage.removeItem(unsentKey(station));
    const nothing = { about: "", fields: null };
    setTyped(nothing);
    queries.setQueryData(keyOf("drafts", station), nothing);
    const params = { path: { station }, query: { device: deviceName() } };
    line = line.then(() => api.DELETE("/api/drafts/{station}", { params })).catch(() => undefined);
    await line;
  }, [queries, station]);
  const held = typed ?? query.data;
  const fields = (held?.fields ?? null) as T | null;
  const own = held?.about === about;
  return { draft: own ? fields : null, other: own ? null : fields, keep, discard, pending: query.isPending };
}
