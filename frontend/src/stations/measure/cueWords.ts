import type { Schemas } from "../../api/client";

type Cue = Schemas["FramingView"]["cues"][number];

/** What to do before the photo is taken, short enough to be read at arm's length. */
export const CUE_WORDS: Record<Cue, string> = {
  "no-card": "Point it at the card",
  "card-cut-off": "Card cut off: go back a little",
  closer: "Closer",
  flatter: "Flatter",
  steadier: "Steadier: rest the phone, tap to focus",
  "more-light": "More light",
  "less-light": "Less light",
  shadow: "A shadow falls on it: step aside",
  "spread-thinner": "Spread thinner",
  "no-grounds": "Spread a pinch in the frame",
};

/** Which side of the phone to raise, from how far it leans: the side that is nearer to the card. */
export function leanWords(lean: readonly number[] | null): string {
  if (!lean) return CUE_WORDS.flatter;
  const [x, y] = [lean[0]!, lean[1]!];
  const side = Math.abs(x) > Math.abs(y) ? (x > 0 ? "right side" : "left side") : y > 0 ? "bottom" : "top";
  return `Flatter: raise the ${side}`;
}

/** The same for a photo that was taken, by its findings: what would make the next one better. */
const FINDING_CUES: Record<string, string> = {
  blur: "Steadier: rest the phone on a glass",
  "resolution-coarse": "Closer",
  compression: "Send the original",
  crowded: "Spread thinner",
  "too-few-grounds": "Spread a larger pinch",
  shadow: "Your shadow falls on it: step aside",
  "uneven-light": "Turn so that the light is even",
  overexposed: "Less light",
  underexposed: "More light",
  "dark-room": "More light",
  "hard-shadow": "Softer light: a white sheet opposite the window",
  tilt: "Flatter",
  "card-partly-hidden": "Card cut off: show all of it",
  "card-bent": "Lay the card flat",
  "colour-missing": "Take it in colour",
};

/** What to do better next time, worst first and each once; nothing where the photo is as it should be. */
export function betterNext(findings: Schemas["FindingDocument"][]): string[] {
  const order = ["problem", "warning", "note"];
  const ranked = [...findings].sort((a, b) => order.indexOf(a.severity) - order.indexOf(b.severity));
  const words = ranked.map((f) => FINDING_CUES[f.code]).filter((w) => w !== undefined);
  return [...new Set(words)];
}

/** The same for a photo that was refused, by the code of the refusal. */
export const REFUSAL_CUES: Record<string, string> = {
  "card-not-found": "Show the whole card",
  "card-too-tilted": "Flatter",
  "no-grounds": "Spread a pinch in the frame",
};
