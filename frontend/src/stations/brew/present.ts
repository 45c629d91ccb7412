import type { Schemas } from "../../api/client";
import { endingWords } from "../../ui/steeps";
import { clock, endsByItself } from "../../ui/words";
import { METRIC, writer, type Writer } from "../../ui/units";

type Step = Schemas["LiveStep"];

/** What the present moment asks for, in large words: a line above, the one huge thing, a line below, what Space does. */
export interface Present {
  above: string;
  huge: string;
  unit?: string;
  /** The huge thing is being done now. */
  held: boolean;
  /** Counts down to this second of the brew. */
  until: number | null;
  below: string;
  next: string;
  tap: string;
  tappable: boolean;
}

const NOW: Partial<Record<Step["kind"], string>> = {
  swirl: "Swirl",
  stir: "Stir",
  "stir-back": "Stir each way",
  "open-valve": "Open the valve",
  "close-valve": "Close the valve",
};

const WHERE: Record<NonNullable<Step["where"]>, string> = {
  centre: " in the middle,",
  spiral: "",
  edge: " along the edge,",
};
const HOW: Record<NonNullable<Step["strength"]>, string> = { soft: " softly,", normal: "", hard: " hard," };
const UNTIL: Record<NonNullable<Step["waits"]>, string> = {
  "level-back": "Until the water is back at its level",
  half: "Until the water has fallen to half",
  drained: "Until the water has drained",
};

/** The step that is on, as words. Times and amounts are the server's. */
export function presentOf(steps: Step[], now: number, elapsed: number, w: Writer = writer(METRIC)): Present {
  const step = steps[now];
  if (!step)
    return {
      above: "",
      huge: "Done",
      held: false,
      until: null,
      below: "Taste it, then record the cup.",
      next: "",
      tap: "To the cup",
      tappable: true,
    };
  const waiting = elapsed < step.at_s;
  const next = nextWords(steps, now, w);
  const base = { held: !waiting, until: waiting ? step.at_s : step.ends_s, next };
  const total = w.massFigure(step.total_g ?? 0);
  switch (step.kind) {
    case "pour":
      if (step.mark != null)
        return {
          ...base,
          above: waiting ? "Next: fill the cup to the mark, cup" : "Fill the cup to the mark and pour it: cup",
          huge: `${step.mark} of ${step.marks}`,
          below: waiting ? "" : "Slowly, in circles.",
          tap: waiting ? "Start pouring" : "Done",
          tappable: !waiting,
        };
      return waiting
        ? {
            ...base,
            above: step.bloom ? "Next: bloom, to" : "Next, pour to",
            huge: total,
            unit: w.units.mass,
            below: "",
            tap: "Start pouring",
            tappable: false,
          }
        : {
            ...base,
            above: step.bloom
              ? "Bloom: pour to"
              : `Pour${HOW[step.strength ?? "normal"]}${WHERE[step.where ?? "spiral"]} to`,
            huge: total,
            unit: w.units.mass,
            below: "",
            tap: "Done",
            tappable: true,
          };
    case "wait":
      return {
        ...base,
        held: false,
        above: "Wait",
        huge: clock(step.ends_s),
        below: step.waits ? `${UNTIL[step.waits]}; by the plan at about this time` : "",
        tap: step.waits ? "Start pouring" : "Done",
        tappable: true,
      };
    case "drain":
      return {
        ...base,
        held: false,
        above: "All poured. Bed bare at about",
        huge: clock(step.ends_s),
        below: "Tap when no water stands on the bed any more.",
        tap: "Bed is bare",
        tappable: true,
      };
    case "last-drip":
      return {
        ...base,
        held: false,
        above: "Last drip at about",
        huge: clock(step.ends_s),
        below: "Then take the brewer off.",
        tap: "Last drip",
        tappable: true,
      };
    case "press":
      return waiting
        ? {
            ...base,
            above: endingWords(step.ending).before,
            huge: clock(step.at_s),
            below: "",
            tap: endingWords(step.ending).early,
            tappable: false,
          }
        : {
            ...base,
            above: endingWords(step.ending).now,
            huge: clock(step.ends_s),
            below: endingWords(step.ending).care,
            tap: endingWords(step.ending).tap,
            tappable: true,
          };
    case "decant":
      return {
        ...base,
        held: true,
        until: null,
        above: "Now",
        huge: "Pour it off",
        below: "All of it: on the grounds it goes on steeping.",
        tap: "Poured off",
        tappable: true,
      };
    case "add":
      return {
        ...base,
        held: true,
        until: null,
        above: "Taste, then add hot water; planned",
        huge: w.massFigure(step.amount_g),
        unit: w.units.mass,
        below: "",
        tap: "Added",
        tappable: true,
      };
    default:
      return {
        ...base,
        above: waiting ? `At ${clock(step.at_s)}` : "Now",
        huge: NOW[step.kind] ?? step.words,
        below: waiting ? "" : "Gently, once or twice round.",
        tap: "Done",
        tappable: !waiting,
      };
  }
}

/** What comes after a step, in words; a plan's steps will do. */
export function nextWords(steps: Schemas["StepView"][], now: number, w: Writer = writer(METRIC)): string {
  const next = steps[now + 1];
  if (!next) return "";
  if (next.kind === "pour" && next.mark != null) return `then at ${clock(next.at_s)} cup ${next.mark} of ${next.marks}`;
  if (next.kind === "pour") {
    const last = !steps.slice(now + 2).some((s) => s.kind === "pour");
    return `then at ${clock(next.at_s)} pour to ${w.mass(next.total_g ?? 0)}${last ? ", the last" : ""}`;
  }
  if (next.kind === "drain") return `then the bed, bare at about ${clock(next.ends_s)}`;
  if (next.kind === "last-drip") return `then the last drip, about ${clock(next.ends_s)}`;
  if (next.kind === "wait") return `then ${next.words.charAt(0).toLowerCase()}${next.words.slice(1)}`;
  return `then at ${clock(endsByItself(next) ? next.ends_s : next.at_s)}: ${next.words.charAt(0).toLowerCase()}${next.words.slice(1)}`;
}
