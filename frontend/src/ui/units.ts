import type { Schemas } from "../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.units;

/** What masses and temperatures are shown and typed in; everything is sent in grams and °C, or with its unit. */
export type Units = Schemas["UnitsDocument"];
export type Quantity = "mass" | "heat";

export const METRIC: Units = { mass: "g", temperature: "C" };
export const GRAMS_PER_OUNCE = 28.349523125;

/** The choices that one key walks through. */
export const CHOICES: [Units, string][] = [
  [METRIC, TEXT.gramsAndC],
  [{ mass: "g", temperature: "F" }, TEXT.gramsAndF],
  [{ mass: "oz", temperature: "F" }, TEXT.ouncesAndF],
];

/** The choice after this one. */
export function nextChoice(now: Units): [Units, string] {
  const at = CHOICES.findIndex(([u]) => u.mass === now.mass && u.temperature === now.temperature);
  return CHOICES[(at + 1) % CHOICES.length]!;
}

const inHeat = (celsius: number, u: Units) => (u.temperature === "C" ? celsius : 32 + 1.8 * celsius);

/** Writes quantities in the units that were chosen. */
export function writer(u: Units) {
  /** A mass without its unit; `digits` are decimals in grams, ounces have one, and two where they are few. */
  const massFigure = (g: number, digits = 0) =>
    u.mass === "g" ? g.toFixed(digits) : (g / GRAMS_PER_OUNCE).toFixed(Math.abs(g) < 5 * GRAMS_PER_OUNCE ? 2 : 1);
  return {
    units: u,
    massFigure,
    mass: (g: number, digits = 0) => `${massFigure(g, digits)} ${u.mass}`,
    /** No more digits than were weighed: "17 g", "17.5 g". */
    dose: (g: number) => `${massFigure(g, Number.isInteger(Math.round(g * 10) / 10) ? 0 : 1)} ${u.mass}`,
    heatFigure: (c: number) => String(Math.round(inHeat(c, u))),
    heat: (c: number) => `${Math.round(inHeat(c, u))} °${u.temperature}`,
    /** Grams a second, without its unit. */
    rateFigure: (gs: number) => (u.mass === "g" ? gs.toFixed(1) : (gs / GRAMS_PER_OUNCE).toFixed(2)),
    rateUnit: `${u.mass}/s`,
    unitOf: (what: Quantity) => (what === "mass" ? u.mass : `°${u.temperature}`),
  };
}
export type Writer = ReturnType<typeof writer>;

const NUMBER = /^\s*(-?\d+(?:[.,]\d+)?)\s*(oz|°?\s*[fF])?\s*$/;
const neat = (n: number, digits: number) => String(Number(n.toFixed(digits)));

/** A kept text, grams or °C where it names no unit, as it is shown in the units chosen; what is no number stays. */
export function shownIn(text: string, what: Quantity, u: Units): string {
  const [, figure, unit] = text.match(NUMBER) ?? [];
  if (figure === undefined) return text;
  const n = Number(figure.replace(",", "."));
  if (what === "mass") {
    if (u.mass === "oz" ? unit === "oz" : !unit) return figure;
    if (unit && unit !== "oz") return text;
    return u.mass === "oz" ? writer(u).massFigure(n) : neat(n * GRAMS_PER_OUNCE, 1);
  }
  if (unit === "oz") return text;
  if (u.temperature === "F" ? unit : !unit) return figure;
  return u.temperature === "F" ? neat(inHeat(n, u), 0) : neat((n - 32) / 1.8, 1);
}

/** A typed text with its unit named where the unit is not the one that a bare number means. */
export function keptFrom(text: string, what: Quantity, u: Units): string {
  if (!/^\s*-?\d+(?:[.,]\d*)?\s*$/.test(text)) return text;
  if (what === "mass") return u.mass === "oz" ? `${text.trim()} oz` : text;
  return u.temperature === "F" ? `${text.trim()} F` : text;
}
