import { scaleLinear, scaleLog, type ScaleContinuousNumeric } from "d3-scale";
import { line as path } from "d3-shape";

export type Scale = ScaleContinuousNumeric<number, number>;

export const linear = (domain: [number, number], range: [number, number]): Scale => scaleLinear(domain, range);

export const log = (domain: [number, number], range: [number, number]): Scale => scaleLog(domain, range);

/** The two ends of what a scale shows. */
export const ends = (scale: Scale) => scale.domain() as [number, number];

const SIZE_TICKS = [
  30, 40, 50, 60, 80, 100, 150, 200, 300, 400, 500, 600, 700, 800, 1000, 1200, 1500, 2000, 2500, 3000, 4000,
];

/** Ticks of a size axis that have room, the round ones first. */
export function sizeTicks(scale: Scale, room = 42): number[] {
  const [low, high] = ends(scale);
  const round = [100, 1000, 200, 500, 50, 300, 2000, 700, 400, 1500, 600, 800, 150, 1200, 30, 60, 80, 40, 2500, 3000];
  const kept: number[] = [];
  for (const t of round) {
    if (t < low * 0.999 || t > high * 1.001 || !SIZE_TICKS.includes(t)) continue;
    if (kept.every((k) => Math.abs(scale(k) - scale(t)) >= room)) kept.push(t);
  }
  return kept.sort((a, b) => a - b);
}

const draw = path().digits(1);

/** A path through points, in px. */
export const line = (points: [number, number][]) => draw(points) ?? "";

/** Shift labels along one axis so that none is nearer than `room` to the next; order is kept. */
export function spread(at: number[], room: number, low: number, high: number): number[] {
  const order = at.map((_, i) => i).sort((a, b) => at[a]! - at[b]!);
  const placed = [...at];
  for (let pass = 0; pass < 40; pass++) {
    for (let k = 1; k < order.length; k++) {
      const a = order[k - 1]!,
        b = order[k]!;
      const gap = placed[b]! - placed[a]!;
      if (gap < room) {
        placed[a]! -= (room - gap) / 2;
        placed[b]! += (room - gap) / 2;
      }
    }
    for (const i of order) placed[i] = Math.min(high, Math.max(low, placed[i]!));
  }
  return placed;
}
