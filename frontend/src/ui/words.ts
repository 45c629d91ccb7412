/** Numbers and times as they are printed. */

/** With commas between thousands; the browser's own formatter takes a noticeable while to start. */
export const whole = (n: number) => String(Math.round(n)).replace(/\B(?=(\d{3})+$)/g, ",");

export function clock(seconds: number): string {
  const s = Math.max(0, Math.round(seconds));
  if (s >= 7200)
    return `${Math.floor(s / 3600)}${s % 3600 >= 60 ? `:${String(Math.floor((s % 3600) / 60)).padStart(2, "0")}` : ""} h`;
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}`;
}

/** Half of an interval of time, no finer than it is known: "51 s", "12 min", "2 h". */
export function about(seconds: number): string {
  if (seconds < 120) return `${Math.round(seconds)} s`;
  return seconds < 7200 ? `${Math.round(seconds / 60)} min` : `${Math.round(seconds / 3600)} h`;
}

/** A step that nobody does: it is over when it happens. */
export const endsByItself = (step: { kind: string }) => step.kind === "drain" || step.kind === "last-drip";

export const percent = (share: number, digits = 1) => `${(100 * share).toFixed(digits)} %`;

/** "612 µm" with "590 to 634": an interval in words. */
export const between = ([low, high]: readonly number[]) => `${whole(low ?? 0)} to ${whole(high ?? 0)}`;

/** A number as people type it, "18,5" or "300 µm", with one of `units` ("mm", "g|%") or none; NaN when it is no number. */
export const readNumber = (text: string, units: string) =>
  Number(text.replace(",", ".").replace(new RegExp(`\\s*(${units})$`), ""));

/** Half the width of an interval. */
export const halfWidth = ([low = 0, high = 0]: readonly number[]) => (high - low) / 2;

export const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

/** How the grind of a slip is known where it has no setting. */
export const howGround = (slip: { grind_assumed?: boolean }) => (slip.grind_assumed ? "assumed" : "measured");

const WARM_C = 40;

/** Whether a plan's water can scald, and takes no food for hours. */
export const isHot = (plan: { water_c?: number }) => (plan.water_c ?? 93) > WARM_C;

/** Every text of the shared parts that is neither data nor of a way to end a steep (steeps.ts), by the file that shows it. Sentences with a figure in them are functions. */
export const WORDS = {
  margin: {
    close: "Close",
    details: "Details",
  },
  parts: {
    watchOut: "watch out",
    somethingWentWrongOnThisPage: "Something went wrong on this page.",
    loadItAgain: "Load it again.",
    tryAgain: "Try again",
    fetching: "Fetching",
  },
  pourAccuracy: {
    yourHand: "Your hand",
    yourPoursByThe: (from: boolean) => `Your pours, by the ${from ? "scale" : "taps"}`,
    typically: "Typically",
    sOff: "s off",
    andOffInTheTotal: (typical_over_g: string) => `and ${typical_over_g} off in the total`,
  },
  settingStep: {
    oneStep: (grinder: string) => `One step on the ${grinder}`,
    finer: "Finer",
    coarser: "Coarser",
    oneStepFiner: "One step finer",
    oneStepCoarser: "One step coarser",
    theDialEnds: "the dial ends here",
    stalls: "may stall",
    sizeAndTime: (um: string, time: string) => `${um} µm, ${time}`,
    strength: (by: string) => `${by} % strength`,
    extraction: (by: string) => `${by} % extraction`,
  },
  units: {
    gramsAndC: "Grams and °C",
    gramsAndF: "Grams and °F",
    ouncesAndF: "Ounces and °F",
  },
  useQuestion: {
    waterAt: "Water at",
    inTheCup: "In the cup",
    spentGroundsDried: "Spent grounds, dried",
    bareBed: "Bare bed",
    isThisRight: "Is this right?",
    didYouPourEarlier: (poured_by_s: string) => `The plan's last pour ends at ${poured_by_s}. Did you pour earlier?`,
    yesIsRight: (time: string) => `Yes, ${time} is right`,
    correctIt: "Correct it",
    toUseIt: "Use it",
    changeIt: "Change it",
  },
};
