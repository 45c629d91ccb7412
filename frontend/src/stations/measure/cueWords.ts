import type { Schemas } from "../../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.cueWords;

type Cue = Schemas["FramingView"]["cues"][number];

/** What to do before the photo is taken, short enough to be read at arm's length. */
export const CUE_WORDS: Record<Cue, string> = {
  "no-card": TEXT.pointItAtTheCard,
  "card-cut-off": TEXT.cardCutOffGoBackALittle,
  closer: "Closer",
  flatter: "Flatter",
  steadier: TEXT.steadierRestThePhoneTapTo,
  "more-light": TEXT.moreLight,
  "less-light": TEXT.lessLight,
  shadow: TEXT.aShadowFallsOnItStepAside,
  "spread-thinner": TEXT.spreadThinner,
  "no-grounds": TEXT.spreadAPinchInTheFrame,
};

/** Which side of the phone to raise, from how far it leans: the side that is nearer to the card. */
export function leanWords(lean: readonly number[] | null): string {
  if (!lean) return CUE_WORDS.flatter;
  const [x, y] = [lean[0]!, lean[1]!];
  const side = Math.abs(x) > Math.abs(y) ? (x > 0 ? TEXT.rightSide : TEXT.leftSide) : y > 0 ? "bottom" : "top";
  return TEXT.flatterRaiseThe(side);
}

/** The same for a photo that was taken, by its findings: what would make the next one better. */
const FINDING_CUES: Record<string, string> = {
  blur: TEXT.steadierRestThePhoneOnAGlass,
  "resolution-coarse": "Closer",
  compression: TEXT.sendTheOriginal,
  crowded: TEXT.spreadThinner,
  "too-few-grounds": TEXT.spreadALargerPinch,
  shadow: TEXT.yourShadowFallsOnItStepAside,
  "uneven-light": TEXT.turnSoThatTheLightIsEven,
  overexposed: TEXT.lessLight,
  underexposed: TEXT.moreLight,
  "dark-room": TEXT.moreLight,
  "hard-shadow": TEXT.softerLightAWhiteSheetOpposite,
  tilt: "Flatter",
  "card-partly-hidden": TEXT.cardCutOffShowAllOfIt,
  "card-bent": TEXT.layTheCardFlat,
  "colour-missing": TEXT.takeItInColour,
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
  "card-not-found": TEXT.showTheWholeCard,
  "card-too-tilted": "Flatter",
  "no-grounds": TEXT.spreadAPinchInTheFrame,
};
