import type { Schemas } from "../../api/client";
import { endingWords } from "../../ui/steeps";
import { clock, endsByItself } from "../../ui/words";
import { METRIC, writer, type Writer } from "../../ui/units";
import { WORDS } from "./words";

const TEXT = WORDS.present;

type Step = Schemas["StepView"];

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
  /** What a tap says: that the step is over, or that it begins, sooner than planned. */
  says: "done" | "begin";
  /** How far past its predicted end it is, s, and what may be going on. */
  late?: { s: number; words: string };
}

/** So long past a predicted end nothing is said yet: predictions are no better. */
const LATE_S = 10;

const NOW: Partial<Record<Step["kind"], string>> = {
  swirl: "Swirl",
  stir: "Stir",
  "stir-back": TEXT.stirEachWay,
  "open-valve": TEXT.openTheValve,
  "close-valve": TEXT.closeTheValve,
};

const WHERE: Record<NonNullable<Step["where"]>, string> = {
  centre: TEXT.inTheMiddle,
  spiral: "",
  edge: TEXT.alongTheEdge,
};
const HOW: Record<NonNullable<Step["strength"]>, string> = { soft: " softly,", normal: "", hard: " hard," };
const UNTIL: Record<NonNullable<Step["waits"]>, string> = {
  "level-back": TEXT.untilTheWaterIsBackAtItsLevel,
  half: TEXT.untilTheWaterHasFallenToHalf,
  drained: TEXT.untilTheWaterHasDrained,
};

/** The step that is on, as words. Times and amounts are the server's. */
export function presentOf(steps: Step[], now: number, elapsed: number, w: Writer = writer(METRIC)): Present {
  const step = steps[now];
  const shown = stepOf(steps, now, elapsed, w);
  const words = step && TEXT.late[step.kind as keyof typeof TEXT.late];
  const late = step ? elapsed - step.ends_s : 0;
  return words && late > LATE_S ? { ...shown, late: { s: late, words } } : shown;
}

function stepOf(steps: Step[], now: number, elapsed: number, w: Writer): Present {
  const step = steps[now];
  if (!step)
    return {
      above: "",
      huge: TEXT.done,
      held: false,
      until: null,
      below: TEXT.tasteItThenRecordTheCup,
      next: "",
      tap: TEXT.toTheCup,
      says: "done",
    };
  const waiting = elapsed < step.at_s;
  const next = nextWords(steps, now, w);
  const base = {
    held: !waiting,
    until: waiting ? step.at_s : step.ends_s,
    next,
    says: waiting ? ("begin" as const) : ("done" as const),
  };
  const total = w.massFigure(step.total_g ?? 0);
  switch (step.kind) {
    case "pour":
      if (step.mark != null)
        return {
          ...base,
          above: waiting ? TEXT.nextFillTheCupToTheMarkCup : TEXT.fillTheCupToTheMarkAndPour,
          huge: TEXT.ofWord(step.mark, step.marks),
          below: waiting ? "" : TEXT.slowlyInCircles,
          tap: waiting ? TEXT.startPouring : TEXT.done,
        };
      return waiting
        ? {
            ...base,
            above: step.bloom ? TEXT.nextBloomTo : TEXT.nextPourTo,
            huge: total,
            unit: w.units.mass,
            below: "",
            tap: TEXT.startPouring,
          }
        : {
            ...base,
            above: step.bloom
              ? TEXT.bloomPourTo
              : `Pour${HOW[step.strength ?? "normal"]}${WHERE[step.where ?? "spiral"]} to`,
            huge: total,
            unit: w.units.mass,
            below: "",
            tap: TEXT.done,
          };
    case "wait":
      return {
        ...base,
        held: false,
        above: "Wait",
        huge: clock(step.ends_s),
        below: step.waits ? TEXT.byThePlanAtAboutThisTime(UNTIL[step.waits]) : "",
        tap: step.waits ? TEXT.startPouring : TEXT.done,
        says: "done",
      };
    case "drain":
      return {
        ...base,
        held: false,
        above: TEXT.allPouredBedBareAtAbout,
        huge: clock(step.ends_s),
        below: TEXT.tapWhenNoWaterStandsOnThe,
        tap: TEXT.bedIsBare,
        says: "done",
      };
    case "last-drip":
      return {
        ...base,
        held: false,
        above: TEXT.lastDripAtAbout,
        huge: clock(step.ends_s),
        below: TEXT.thenTakeTheBrewerOff,
        tap: TEXT.lastDrip,
        says: "done",
      };
    case "press":
      return waiting
        ? {
            ...base,
            above: endingWords(step.ending).before,
            huge: clock(step.at_s),
            below: "",
            tap: endingWords(step.ending).early,
          }
        : {
            ...base,
            above: endingWords(step.ending).now,
            huge: clock(step.ends_s),
            below: endingWords(step.ending).care,
            tap: endingWords(step.ending).tap,
          };
    case "decant":
      return {
        ...base,
        held: true,
        until: null,
        above: "Now",
        huge: TEXT.pourItOff,
        below: TEXT.allOfItOnTheGroundsItGoes,
        tap: TEXT.pouredOff,
        says: "done",
      };
    case "add":
      return {
        ...base,
        held: true,
        until: null,
        above: TEXT.tasteThenAddHotWaterPlanned,
        huge: w.massFigure(step.amount_g),
        unit: w.units.mass,
        below: "",
        tap: TEXT.added,
        says: "done",
      };
    default:
      return {
        ...base,
        above: waiting ? `At ${clock(step.at_s)}` : "Now",
        huge: NOW[step.kind] ?? step.words,
        below: waiting ? "" : TEXT.gentlyOnceOrTwiceRound,
        tap: waiting ? TEXT.doneAlready : TEXT.done,
        says: "done",
      };
  }
}

/** What comes after a step, in words; a plan's steps will do. */
export function nextWords(steps: Schemas["StepView"][], now: number, w: Writer = writer(METRIC)): string {
  const next = steps[now + 1];
  if (!next) return "";
  if (next.kind === "pour" && next.mark != null) return TEXT.thenAtCupOf(clock(next.at_s), next.mark, next.marks);
  if (next.kind === "pour") {
    const last = !steps.slice(now + 2).some((s) => s.kind === "pour");
    return TEXT.thenAtPourTo(clock(next.at_s), w.mass(next.total_g ?? 0), last);
  }
  if (next.kind === "drain") return TEXT.thenTheBedBareAtAbout(clock(next.ends_s));
  if (next.kind === "last-drip") return TEXT.thenTheLastDripAbout(clock(next.ends_s));
  if (next.kind === "wait") return `then ${next.words.charAt(0).toLowerCase()}${next.words.slice(1)}`;
  return TEXT.thenAt(
    clock(endsByItself(next) ? next.ends_s : next.at_s),
    next.words.charAt(0).toLowerCase(),
    next.words.slice(1),
  );
}

/** Why a brew that is over has no time, and what to do about it; a steep has no bed that drains. */
export function endNotSeenWords(steeps: boolean, standing: string | undefined): string {
  const said = WORDS.afterBrew;
  if (steeps) return said.itsEndWasNotTapped;
  return standing === "brewer" ? said.aScaleUnderTheBrewerDoesNot : said.brewItAgainOrTypeTheTimeIn;
}
