import { useQuery } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";
import { heardAt } from "./reach";

/** A brew as it was fetched, or kept by this device, and when that was, ms since 1970. */
export type KeptBrew = Schemas["BrewView"] & { heard_at: number };

/** The brew as it was when it was last heard. */
export function useBrew(brewId: number | undefined) {
  return useQuery({
    queryKey: ["brew", brewId],
    enabled: brewId !== undefined,
    queryFn: async (): Promise<KeptBrew> => {
      const answer = await api.GET("/api/brews/{id}", { params: { path: { id: brewId! } } });
      return { ...dataOf(answer), heard_at: heardAt(answer.response) };
    },
  });
}

/** What the scale of a brew said, by time. */
export function useBrewLog(brew: Schemas["BrewView"]) {
  return useQuery({
    queryKey: ["brew-log", brew.id, brew.version],
    enabled: brew.has_log,
    queryFn: async () => readLog(await (await fetch(`/api/brews/${brew.id}/log.csv`)).text()),
  });
}

export function useScales() {
  return useQuery({
    queryKey: ["scales"],
    staleTime: Infinity,
    queryFn: async () => dataOf(await api.GET("/api/scales")).scales,
  });
}

/** The brews that predictions for the plan at hand rest on. */
export function useFit(open: boolean) {
  return useQuery({
    queryKey: ["fit"],
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
