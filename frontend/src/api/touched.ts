import { useQueryClient, type QueryKey } from "@tanstack/react-query";
import { useCallback } from "react";

/** What hangs on the grind at hand and on how grinders are set. */
const OF_GRIND = ["guide", "recipes", "setting-cards", "translations"] as const;
/** What rests on brews and on what was said of their cups. */
const OF_BREWS = ["brews", "experiment-proposals", "fits", "learning", "passes", "plans", "slips"] as const;
/** What is predicted of something that is being typed, from curves and brews. */
const PREDICTED = ["cup-previews", "plan-matches", "plan-previews"] as const;

/**
 * What a write of each resource changes elsewhere, by the first word of the questions' keys. What is on the bench is
 * among them always: it shows something of each.
 */
const TOUCHED = {
  workbenches: ["coffees", "experiments", "grinders", "methods", "samples", ...OF_GRIND, ...OF_BREWS],
  coffees: ["coffees", "plans", "samples", "slips", ...OF_GRIND],
  samples: [
    "comparisons",
    "distributions",
    "experiment-proposals",
    "grinders",
    "plans",
    "samples",
    ...OF_GRIND,
    ...PREDICTED,
  ],
  grinders: ["experiment-proposals", "grinders", "plans", "samples", ...OF_GRIND, ...PREDICTED],
  windows: ["methods", "samples", ...OF_GRIND, ...PREDICTED],
  brewers: ["methods", "plans", ...OF_GRIND],
  recipes: ["recipes"],
  plans: [...OF_BREWS],
  brews: [...OF_BREWS, ...PREDICTED],
  slips: ["grinders", "samples", ...OF_GRIND, ...OF_BREWS, "plan-matches", "plan-previews"],
  learning: ["learning", ...PREDICTED],
  experiments: ["experiments", "experiment-proposals", "slips"],
  drills: ["drills", "experiment-proposals"],
  devices: ["devices"],
} as const;

/** The first words of all keys; those without a resource that writes them are asked for again by their own rules. */
type Topic =
  | (typeof TOUCHED)[keyof typeof TOUCHED][number]
  | "counters"
  | "demo-photos"
  | "dials"
  | "drafts"
  | "outlines"
  | "pour-curves"
  | "scales"
  | "this-device"
  | "triangle-designs"
  | "workbenches"
  | "workbenches-now";

export const keyOf = <Rest extends unknown[]>(topic: Topic, ...rest: Rest) => [topic, ...rest] as const;

/** Without a word of the server's: what is being typed is this device's, and outlines are a photo's. */
const WORDLESS: Topic[] = ["drafts", "outlines", "workbenches-now"];
/** What another bench leaves alone: predictions are asked for again where the grind, which they name, is another. */
const STAYING: Topic[] = [...WORDLESS, ...PREDICTED];

const topicOf = (key: QueryKey) => key[0] as Topic;

/** Ask again for all that a write of a resource changes; what the write answered is handed on when that is known. */
export function useTouched(resource: keyof typeof TOUCHED) {
  const queries = useQueryClient();
  return useCallback(
    async <Answer>(answer: Answer): Promise<Answer> => {
      const touched: Topic[] = ["workbenches", ...TOUCHED[resource]];
      await queries.invalidateQueries({ predicate: (q) => touched.includes(topicOf(q.queryKey)) });
      return answer;
    },
    [queries, resource],
  );
}

/** The same without waiting for the answers: for taps, and where a form closes that may be opened again at once. */
export function useTouchedSoon(resource: keyof typeof TOUCHED) {
  const touched = useTouched(resource);
  return useCallback(
    <Answer>(answer: Answer): Answer => {
      void touched(undefined);
      return answer;
    },
    [touched],
  );
}

/** Ask again for everything: the work is another counter's now, another device wrote, or a back-up came in. */
export function useRefresh() {
  const queries = useQueryClient();
  return useCallback(
    () => queries.invalidateQueries({ predicate: (q) => !STAYING.includes(topicOf(q.queryKey)) }),
    [queries],
  );
}

/** Ask again for everything with a sentence of the server in it: those name quantities in the units chosen here. */
export function useRephrase() {
  const queries = useQueryClient();
  return useCallback(
    () => queries.invalidateQueries({ predicate: (q) => !WORDLESS.includes(topicOf(q.queryKey)) }),
    [queries],
  );
}
