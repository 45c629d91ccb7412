/** The on-screen kettle: how far it is tilted is how fast it will pour, after the moment that water takes. */
export interface Kettle {
  tilt: number;
  rateGS: number;
  pouredG: number;
}

export const FASTEST_G_S = 14;
/** How long the water takes to follow the hand, s. */
const LAG_S = 0.35;

export const STILL: Kettle = { tilt: 0, rateGS: 0, pouredG: 0 };

/** The kettle some seconds later; the water follows the tilt exponentially, so the step may be of any length. */
export function later(k: Kettle, seconds: number): Kettle {
  const wanted = FASTEST_G_S * Math.min(1, Math.max(0, k.tilt));
  const left = Math.exp(-seconds / LAG_S);
  const rateGS = wanted + (k.rateGS - wanted) * left;
  const pouredG = k.pouredG + wanted * seconds + (k.rateGS - wanted) * LAG_S * (1 - left);
  return { tilt: k.tilt, rateGS, pouredG };
}

/** Wanted weight at a time, from the corners of a curve. */
export function wantedAt(points: readonly (readonly number[])[], t: number): number {
  let before = points[0]!;
  for (const p of points) {
    if (p[0]! >= t) {
      const span = p[0]! - before[0]!;
      return span <= 0 ? p[1]! : before[1]! + ((p[1]! - before[1]!) * (t - before[0]!)) / span;
    }
    before = p;
  }
  return before[1]!;
}
