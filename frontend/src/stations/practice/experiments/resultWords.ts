import type { Schemas } from "../../../api/client";
import type { Body } from "../../../api/practice";
import { settingText } from "../../../ui/parts";
import { ladderStep, QUANTITY_WORDS, WORDS } from "../words";

const TEXT = WORDS.resultWords;

type Result = Schemas["ExperimentResult"];
type Triangle = NonNullable<Result["triangle"]>;

/** What an experiment says so far: a short verdict, and a sentence with its figures. */
export interface Said {
  verdict: string;
  detail: string;
  settled: boolean;
}

export const percentWords = (share: number) => {
  const p = 100 * share;
  if (p > 0 && p < 0.1) return "under 0.1 %";
  return `${p < 10 ? p.toFixed(1) : Math.round(p)} %`;
};

const NOTHING: Said = { verdict: TEXT.nothingNotedYet, detail: "", settled: false };

export function said(result: Result, body?: Body): Said {
  const words = wordsOf(result, body);
  return { ...words, verdict: unbroken(words.verdict), detail: unbroken(words.detail) };
}

/** A figure and its unit stay on one line. */
const unbroken = (text: string) => text.replace(/(\d) (%|s|g|°C)(?![a-z])/g, "$1\u00a0$2");

function wordsOf(result: Result, body?: Body): Said {
  if (result.triangle) return ofTriangle(result.triangle);
  if (result.sieve) return ofSieve(result.sieve);
  if (result.three_grinds) return ofThreeGrinds(result.three_grinds, body?.kind === "three-grinds" ? body : undefined);
  if (result.thirds) return ofThirds(result.thirds);
  if (result.two_ways) return ofTwoWays(result.two_ways, body?.kind === "two-ways" ? body : undefined);
  if (result.hand) return ofHand(result.hand);
  if (result.ladder) return ofLadder(result.ladder, body?.kind === "ladder" ? body.variable : undefined);
  return NOTHING;
}

export function ofTriangle(t: Triangle): Said {
  const [low, high] = t.ci95_can_tell.map((v) => Math.round(100 * v));
  const guessing = TEXT.byGuessingAloneOrMoreOfCome(t.rights, t.rounds, percentWords(t.p_value));
  const told = TEXT.theOddCupWasToldNotGuessed(Math.round(100 * t.can_tell), low, high);
  if (t.told_apart)
    return {
      verdict: TEXT.ofRightTheyCanBeToldApart(t.rights, t.rounds),
      detail: `${guessing} ${told}`,
      settled: true,
    };
  const more = t.more_rounds ? TEXT.ifItGoesOnLikeThisAboutMore(t.more_rounds) : TEXT.ifItGoesOnLikeThisNoReasonable;
  return {
    verdict: TEXT.ofRightNotConvincingYet(t.rights, t.rounds),
    detail: `${guessing} ${told}${more}`,
    settled: false,
  };
}

function ofSieve(s: NonNullable<Result["sieve"]>): Said {
  const taken = s.removed_share == null ? "" : TEXT.ofTheDoseWasTakenOut(percentWords(s.removed_share));
  const lost = s.lost_much ? TEXT.isMissingWeighAgainOrLook(percentWords(s.lost_share ?? 0)) : "";
  if (!s.triangle)
    return { verdict: taken ? TEXT.weighedNotTastedYet : TEXT.nothingNotedYet, detail: taken + lost, settled: false };
  const triangle = ofTriangle(s.triangle);
  return { ...triangle, detail: `${taken}${lost}${triangle.detail}` };
}

/** What a liking says of one's sensitivity: how large the steps in size were that did, or did not, make a difference. */
function sensitivity(liked: string | null, body?: Extract<Body, { kind: "three-grinds" }>): string {
  const sizes = (body?.grinds ?? []).map((g) => g.d50_um).sort((a, b) => a - b);
  const steps = sizes.slice(1).map((d, i) => Math.round(100 * (d / sizes[i]! - 1)));
  if (liked === null || steps.length === 0) return "";
  const span = `${Math.min(...steps)} to ${Math.max(...steps)} %`;
  return liked === "none" ? TEXT.stepsOfInSizeMadeNoDifference(span) : TEXT.youTastedADifferenceAtSteps(span);
}

function ofThreeGrinds(g: NonNullable<Result["three_grinds"]>, body?: Extract<Body, { kind: "three-grinds" }>): Said {
  const slope = (v: number) => TEXT.theTimeBy(v < 0, Math.abs(v).toFixed(1));
  const found = g.time_per_size_found == null ? "" : `1 % coarser ${slope(g.time_per_size_found)}`;
  const model =
    found && g.time_per_size_predicted != null ? TEXT.theModelSays(Math.abs(g.time_per_size_predicted).toFixed(1)) : "";
  const off =
    g.time_off_percent == null
      ? ""
      : TEXT.brewsTookThanPredicted(Math.abs(g.time_off_percent).toFixed(0), g.time_off_percent > 0);
  const verdict =
    g.liked == null
      ? TEXT.noFavouriteNamedYet
      : g.liked === "none"
        ? TEXT.noneWasLikedMore
        : TEXT.wasLikedMost(settingText(g.liked));
  return {
    verdict,
    detail: `${found ? `${found}${model}.` : ""}${off}${sensitivity(g.liked, body)}`.trim(),
    settled: g.liked != null,
  };
}

function ofThirds(t: NonNullable<Result["thirds"]>): Said {
  const shares = t.found.map((p) => Math.round(p.share_percent)).join(", ");
  const last = t.found.at(-1)!;
  return {
    verdict: TEXT.ofWhatWasDissolved(shares),
    detail: TEXT.withoutTheLastCupTheDrink(
      t.found.at(-2)!.mixed_tds_percent.toFixed(2),
      t.found.at(-2)!.mixed_ey_percent.toFixed(1),
      last.mixed_tds_percent.toFixed(2),
      last.mixed_ey_percent.toFixed(1),
    ),
    settled: true,
  };
}

function ofTwoWays(w: NonNullable<Result["two_ways"]>, body?: Extract<Body, { kind: "two-ways" }>): Said {
  const q = QUANTITY_WORDS[body?.quantity ?? "time"]!;
  const digits = body?.quantity === "strength" ? 2 : 1;
  const amount = (v: number) => `${Math.abs(v).toFixed(digits)}${q.unit && ` ${q.unit}`}`;
  const signed = (v: number) => `${v < 0 ? "−" : "+"}${Math.abs(v).toFixed(digits)}`;
  const name = body?.b ?? "B";
  const interval = `${signed(w.ci95[0]!)} to ${signed(w.ci95[1]!)}${q.unit && ` ${q.unit}`}, 95 % interval, ${w.pairs} pairs`;
  const mean = `${name} is ${amount(w.mean)} ${w.mean < 0 ? q.less : q.more}`;
  if (w.verdict === "different") return { verdict: `Enough: ${mean}`, detail: `${interval}.`, settled: true };
  if (w.verdict === "alike")
    return { verdict: TEXT.enoughNoDifferenceWorthHaving, detail: `${mean} (${interval}).`, settled: true };
  const more = w.more_pairs ? TEXT.aboutMoreIt(w.more_pairs, w.more_pairs === 1) : "";
  return { verdict: TEXT.keepGoing, detail: `${mean} (${interval}).${more}`, settled: false };
}

function ofHand(h: NonNullable<Result["hand"]>): Said {
  const time = h.time_s;
  if (!time) return { verdict: TEXT.noTimesNotedYet, detail: "", settled: false };
  const [low, high] = time.ci95_sd.map((v) => Math.round(v));
  return {
    verdict: TEXT.sFromBrewToBrew(time.sd.toFixed(0)),
    detail: TEXT.fromBrewsTheSpreadLiesBetween(time.repeats, low, high, Math.ceil(time.believed_from)),
    settled: time.repeats >= 3,
  };
}

function ofLadder(l: NonNullable<Result["ladder"]>, variable?: string): Said {
  const step = (v: number) =>
    variable ? ladderStep(variable, Math.round(10 * v) / 10) : String(Math.round(10 * v) / 10);
  const [low, high] = l.ci95.map(step);
  if (!l.decided)
    return {
      verdict: TEXT.wasLikedMostSoFar(step(l.best)),
      detail: TEXT.likingDoesNotBendClearlyEnough,
      settled: false,
    };
  return {
    verdict: TEXT.isBest(step(l.best)),
    detail: TEXT.thePeakLiesBetweenAnd95(low, high),
    settled: true,
  };
}

/** What a triangle can show before it begins. */
export function powerWords(p: Schemas["TrianglePower"]): string {
  if (p.rights_needed == null) return TEXT.soFewRoundsSettleNothingEven;
  const share = Math.round(100 * p.expected_can_tell);
  const wanted = p.rounds_for_80 ? TEXT.forFourTimesInFiveTakeRounds(p.rounds_for_80) : "";
  return unbroken(
    TEXT.ofRightsSettleItIfTheOddCup(
      p.rights_needed,
      p.rounds,
      share,
      Math.round(100 * p.power),
      p.power < 0.8 ? wanted : "",
    ),
  );
}
