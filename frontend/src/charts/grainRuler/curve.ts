import type { Schemas } from "../../api/client";
import { whole } from "../../ui/words";
import { ends, type Scale } from "../scales";
import { WORDS } from "../words";

/** A curve as drawn: density per ln d, or cumulative share, with its band. */
export interface Drawn {
  size: number[];
  value: number[];
  low: number[];
  high: number[];
  peak: number;
}

export function drawnOf(
  sample: Schemas["SampleDetail"],
  d: Schemas["DistributionView"] | undefined,
  cumulative: boolean,
): Drawn {
  if (d && cumulative)
    return { size: d.size_um, value: d.cumulative, low: d.cumulative_low, high: d.cumulative_high, peak: 1 };
  const c = d ?? sample.curve;
  return { size: c.size_um, value: c.density, low: c.low, high: c.high, peak: Math.max(...c.high, 0.01) };
}

export const heightOf = (value: number, peak: number, base: number) => base - (value / peak) * (base - 84);

/** Points of a curve that lie on the axis, from a size on. */
export function along(
  size: number[],
  values: number[],
  x: Scale,
  base: number,
  peak: number,
  from = 0,
): [number, number][] {
  const points: [number, number][] = [];
  size.forEach((s, i) => {
    if (s >= Math.max(from, ends(x)[0]) && s <= ends(x)[1]) points.push([x(s), heightOf(values[i] ?? 0, peak, base)]);
  });
  return points;
}

/** Width of a letter of the small type, on average. */
export const LETTER_PX = 6.6;

export type Band = [number, number] | null;

export const LEFT = 30;

/** What stands over the sizes that a photo does not show. */
export const notSeenBelow = (limitUm: number) => WORDS.curves.notSeenBelowM(whole(limitUm));
