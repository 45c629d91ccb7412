import { useMemo } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, at, dataOf, ofPass, sendForm, typed, type Schemas } from "./client";
import { heardAt } from "./reach";
import { keyOf, useTouched, useTouchedSoon } from "./touched";

const LOOK_MS = 1000;

/** A brew as it was fetched, or kept by this device, and when that was, ms since 1970. */
export type KeptBrew = Schemas["BrewView"] & { heard_at: number };

/** The brew as it was when it was last heard. */
export function useBrew(brewId: number | undefined) {
  return useQuery({
    queryKey: keyOf("brews", brewId),
    enabled: brewId !== undefined,
    queryFn: async (): Promise<KeptBrew> => {
      const answer = await api.GET("/api/brews/{id}", { params: { path: { id: brewId! } } });
      return { ...dataOf(answer), heard_at: heardAt(answer.response) };
    },
  });
}

/** The brew that runs at a display's counter, looked for again each second. */
export function useDisplayedBrew() {
  return useQuery({
    queryKey: keyOf("brews", "displayed"),
    refetchInterval: LOOK_MS,
    queryFn: async () => dataOf(await api.GET("/api/brews/displayed")),
  });
}

/** What the scale of a brew said, by time. */
export function useBrewLog(brew: Schemas["BrewView"]) {
  return useQuery({
    queryKey: keyOf("brews", brew.id, "log", brew.version),
    enabled: brew.has_log,
    queryFn: async () => readLog(await (await fetch(`/api/brews/${brew.id}/log.csv`)).text()),
  });
}

export function useScales() {
  return useQuery({
    queryKey: keyOf("scales"),
    staleTime: Infinity,
    queryFn: async () => dataOf(await api.GET("/api/scales")).scales,
  });
}

/** The brews that predictions for the plan at hand rest on. */
export function useFit(open: boolean) {
  return useQuery({
    queryKey: keyOf("fits"),
    enabled: open,
    queryFn: async () => dataOf(await api.GET("/api/fits/current")),
  });
}

/** The log's columns; the server wrote it, so its form is known. */
function readLog(text: string) {
  const rows = text
    .trim()
    .split("\n")
    .slice(1)
    .map((r) => r.split(","));
  const read = rows.filter((r) => r[1] || r[2]);
  const column = (k: number) => read.map((r) => (r[k] ? Number(r[k]) : null));
  return { t_s: read.map((r) => Number(r[0])), poured_g: column(1), drink_g: column(2) };
}

/** Writes of brews. A tap is answered at once; what shows it looks again meanwhile. */
export function useBrewWrites() {
  const touched = useTouched("brews");
  const soon = useTouchedSoon("brews");
  return useMemo(() => {
    const heard = <Answer>(answer: { data?: Answer }) => soon(dataOf(answer));
    return {
      start: async (passId: number | null, body: Schemas["StartBrew"]) =>
        touched(dataOf(await api.POST("/api/brews", { ...ofPass(passId), body }))),
      readLog: async (passId: number | null, log: File) =>
        touched(dataOf(await api.POST("/api/brews/from-log", { ...ofPass(passId), body: { csv: await log.text() } }))),
      keepBedPhoto: async (id: number, photo: File) => {
        const form = new FormData();
        form.append("photo", photo);
        await touched(await sendForm(`/api/brews/${id}/bed-photo`, form));
      },
      tap: async (id: number, body: Schemas["BrewTap"]) =>
        heard(await api.POST("/api/brews/{id}/taps", { ...at(id), body })),
      note: async (id: number, what: Schemas["BrewNote"]["what"], on: boolean) =>
        heard(await api.POST("/api/brews/{id}/notes", { ...at(id), body: { what, on } })),
      weigh: async (id: number, dose: string) =>
        heard(await api.POST("/api/brews/{id}/dose", { ...at(id), body: { dose_g: typed(dose) } })),
      plug: async (id: number, connected: boolean) =>
        heard(await api.POST("/api/brews/{id}/scale", { ...at(id), body: { connected } })),
      close: async (id: number) => heard(await api.POST("/api/brews/{id}/close", { ...at(id), body: {} })),
    };
  }, [touched, soon]);
}

/** Which brews count for the predictions of the plan at hand. */
export function useCountBrews() {
  const touched = useTouched("brews");
  return async (brew_ids: number[], counts: boolean) =>
    touched(dataOf(await api.PATCH("/api/fits/current", { body: { brew_ids, counts } })));
}
