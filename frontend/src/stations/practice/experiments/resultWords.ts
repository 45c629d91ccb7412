import type { Schemas } from "../../../api/client";
import type { Body } from "../../../api/practice";
import { settingText } from "../../../ui/parts";
import { ladderStep, QUANTITY_WORDS } from "../words";

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

const NOTHING: Said = { verdict: "nothing noted yet", detail: "", settled: false };

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
  const guessing = `By guessing alone, ${t.rights} or more of ${t.rounds} come ${percentWords(t.p_value)} of the time.`;
  const told = `The odd cup was told, not guessed, in about ${Math.round(100 * t.can_tell)} % of rounds (95 % interval ${low} to ${high} %).`;
  if (t.told_apart)
    return {
      verdict: `${t.rights} of ${t.rounds} right: they can be told apart`,
      detail: `${guessing} ${told}`,
      settled: true,
    };
  const more = t.more_rounds
    ? ` If it goes on like this, about ${t.more_rounds} more rounds settle it.`
    : " If it goes on like this, no reasonable number of rounds settles it.";
  return {
    verdict: `${t.rights} of ${t.rounds} right: not convincing yet`,
    detail: `${guessing} ${told}${more}`,
    settled: false,
  };
}

function ofSieve(s: NonNullable<Result["sieve"]>): Said {
  const taken = s.removed_share == null ? "" : `${percentWords(s.removed_share)} of the dose was taken out. `;
  const lost = s.lost_much
    ? `${percentWords(s.lost_share ?? 0)} is missing: weigh again, or look into the sieve. `
    : "";
  if (!s.triangle)
    return { verdict: taken ? "weighed, not tasted yet" : "nothing noted yet", detail: taken + lost, settled: false };
  const triangle = ofTriangle(s.triangle);
  return { ...triangle, detail: `${taken}${lost}${triangle.detail}` };
}

/** What a liking says of one's sensitivity: how large the steps in size were that did, or did not, make a difference. */
function sensitivity(liked: string | null, body?: Extract<Body, { kind: "three-grinds" }>): string {
  const sizes = (body?.grinds ?? []).map((g) => g.d50_um).sort((a, b) => a - b);
  const steps = sizes.slice(1).map((d, i) => Math.round(100 * (d / sizes[i]! - 1)));
  if (liked === null || steps.length === 0) return "";
  const span = `${Math.min(...steps)} to ${Math.max(...steps)} %`;
  return liked === "none"
    ? ` Steps of ${span} in size made no difference to you: such a step is not worth chasing.`
    : ` You tasted a difference at steps of ${span} in size; a triangle tells whether you would again.`;
}

function ofThreeGrinds(g: NonNullable<Result["three_grinds"]>, body?: Extract<Body, { kind: "three-grinds" }>): Said {
  const slope = (v: number) => `${v < 0 ? "shortened" : "lengthened"} the time by ${Math.abs(v).toFixed(1)} %`;
  const found = g.time_per_size_found == null ? "" : `1 % coarser ${slope(g.time_per_size_found)}`;
  const model =
    found && g.time_per_size_predicted != null
      ? `; the model says ${Math.abs(g.time_per_size_predicted).toFixed(1)} %`
      : "";
  const off =
    g.time_off_percent == null
      ? ""
      : ` Brews took ${Math.abs(g.time_off_percent).toFixed(0)} % ${g.time_off_percent > 0 ? "longer" : "less"} than predicted.`;
  const verdict =
    g.liked == null
      ? "no favourite named yet"
      : g.liked === "none"
        ? "none was liked more"
        : `${settingText(g.liked)} was liked most`;
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
    verdict: `${shares} % of what was dissolved`,
    detail: `Without the last cup the drink has ${t.found.at(-2)!.mixed_tds_percent.toFixed(2)} % and ${t.found.at(-2)!.mixed_ey_percent.toFixed(1)} % is extracted; with it ${last.mixed_tds_percent.toFixed(2)} % and ${last.mixed_ey_percent.toFixed(1)} %.`,
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
    return { verdict: "Enough: no difference worth having", detail: `${mean} (${interval}).`, settled: true };
  const more = w.more_pairs
    ? ` About ${w.more_pairs} more ${w.more_pairs === 1 ? "pair settles" : "pairs settle"} it.`
    : "";
  return { verdict: "Keep going", detail: `${mean} (${interval}).${more}`, settled: false };
}

function ofHand(h: NonNullable<Result["hand"]>): Said {
  const time = h.time_s;
  if (!time) return { verdict: "no times noted yet", detail: "", settled: false };
  const [low, high] = time.ci95_sd.map((v) => Math.round(v));
  return {
    verdict: `±${time.sd.toFixed(0)} s from brew to brew`,
    detail: `From ${time.repeats} brews; the spread lies between ${low} and ${high} s. One brew against another: believe a change of time from ${Math.ceil(time.believed_from)} s on.`,
    settled: time.repeats >= 3,
  };
}

function ofLadder(l: NonNullable<Result["ladder"]>, variable?: string): Said {
  const step = (v: number) =>
    variable ? ladderStep(variable, Math.round(10 * v) / 10) : String(Math.round(10 * v) / 10);
  const [low, high] = l.ci95.map(step);
  if (!l.decided)
    return {
      verdict: `${step(l.best)} was liked most, so far`,
      detail:
        "Liking does not bend clearly enough to have a best step within the ladder. Taste another round, or make the ladder longer.",
      settled: false,
    };
  return {
    verdict: `${step(l.best)} is best`,
    detail: `The peak lies between ${low} and ${high} (95 % interval).`,
    settled: true,
  };
}

/** What a triangle can show before it begins. */
export function powerWords(p: Schemas["TrianglePower"]): string {
  if (p.rights_needed == null) return "So few rounds settle nothing: even all rights could be guessed.";
  const share = Math.round(100 * p.expected_can_tell);
  const wanted = p.rounds_for_80 ? ` For four times in five take ${p.rounds_for_80} rounds.` : "";
  return unbroken(
    `${p.rights_needed} of ${p.rounds} rights settle it. If the odd cup can be told in ${share} % of rounds, that happens ${Math.round(100 * p.power)} % of the time.${p.power < 0.8 ? wanted : ""}`,
  );
}
