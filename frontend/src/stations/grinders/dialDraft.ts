import { typed, type Schemas } from "../../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.dialDraft;

export type Dial = Schemas["GrinderView"]["dial"];

export type Kind = Dial["kind"];

/** What is typed of a dial; every kind keeps its own words while another is looked at. */
export interface Draft {
  clicks: { perTurn: string; first: string; last: string };
  numbers: { first: string; last: string; parts: string };
  stepless: { first: string; last: string; readable: string };
  turns: { numbers: string; clicks: string; last: string };
  rings: { coarse: string; fine: string; span: string };
  seconds: { last: string };
}

const START: Draft = {
  clicks: { perTurn: "36", first: "0", last: "60" },
  numbers: { first: "0", last: "14", parts: "4" },
  stepless: { first: "0", last: "8", readable: "0.05" },
  turns: { numbers: "10", clicks: "4", last: "3.0.0" },
  rings: { coarse: "A–K", fine: "1–9", span: "1" },
  seconds: { last: "60" },
};

export const KINDS: { value: Kind; label: string }[] = [
  { value: "clicks", label: TEXT.clicksThatAreCounted22 },
  { value: "numbers", label: TEXT.numbersWithPartsBetween41 },
  { value: "stepless", label: TEXT.aCollarWithoutStops435 },
  { value: "turns", label: TEXT.turnsNumbersAndClicks142 },
  { value: "rings", label: TEXT.twoRingsC4 },
  { value: "seconds", label: TEXT.noDialBlades12SShaken },
];

/** "A–K", "1-9" or "A B C" as labels. */
function labelsOf(text: string): string[] {
  const range = text.trim().match(/^(\w)\s*[-–]\s*(\w)$/) ?? text.trim().match(/^(\d+)\s*[-–]\s*(\d+)$/);
  if (range) {
    const [a, b] = [range[1]!, range[2]!];
    if (/^\d+$/.test(a) && /^\d+$/.test(b))
      return Array.from({ length: Math.min(60, Math.max(0, Number(b) - Number(a) + 1)) }, (_, i) =>
        String(Number(a) + i),
      );
    const [x, y] = [a.charCodeAt(0), b.charCodeAt(0)];
    return Array.from({ length: Math.min(60, Math.max(0, y - x + 1)) }, (_, i) => String.fromCharCode(x + i));
  }
  return text.split(/[\s,;]+/).filter(Boolean);
}

export function dialOf(kind: Kind, d: Draft, finer: "down" | "up", zero: string): Dial {
  const shared = { finer, zero: zero.trim() || null };
  switch (kind) {
    case "clicks":
      return {
        kind,
        ...shared,
        clicks_per_turn: typed(d.clicks.perTurn),
        minimum: typed(d.clicks.first),
        maximum: typed(d.clicks.last),
      };
    case "numbers":
      return {
        kind,
        ...shared,
        minimum: typed(d.numbers.first),
        maximum: typed(d.numbers.last),
        parts: typed(d.numbers.parts),
      };
    case "stepless":
      return {
        kind,
        ...shared,
        minimum: typed(d.stepless.first),
        maximum: typed(d.stepless.last),
        readable: typed(d.stepless.readable.replace(",", ".")),
      };
    case "turns":
      return {
        kind,
        ...shared,
        numbers_per_turn: typed(d.turns.numbers),
        clicks_per_number: typed(d.turns.clicks),
        minimum: "0.0.0",
        maximum: d.turns.last,
      };
    case "rings":
      return {
        kind,
        ...shared,
        coarse: labelsOf(d.rings.coarse),
        fine: labelsOf(d.rings.fine),
        fine_span: typed(d.rings.span),
      };
    case "seconds":
      return { kind, finer: "up", zero: null, minimum: 2, maximum: typed(d.seconds.last) };
  }
}

export function draftOf(dial: Dial | undefined): Draft {
  if (!dial) return START;
  switch (dial.kind) {
    case "clicks":
      return {
        ...START,
        clicks: { perTurn: String(dial.clicks_per_turn), first: String(dial.minimum), last: String(dial.maximum) },
      };
    case "numbers":
      return {
        ...START,
        numbers: { first: String(dial.minimum), last: String(dial.maximum), parts: String(dial.parts) },
      };
    case "stepless":
      return {
        ...START,
        stepless: { first: String(dial.minimum), last: String(dial.maximum), readable: String(dial.readable) },
      };
    case "turns":
      return {
        ...START,
        turns: {
          numbers: String(dial.numbers_per_turn),
          clicks: String(dial.clicks_per_number),
          last: dial.maximum ?? "3.0.0",
        },
      };
    case "rings":
      return {
        ...START,
        rings: { coarse: dial.coarse.join(" "), fine: dial.fine.join(" "), span: String(dial.fine_span) },
      };
    case "seconds":
      return { ...START, seconds: { last: String(dial.maximum) } };
  }
}
