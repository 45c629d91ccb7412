import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import { useOutlines } from "../../api/samples";
import { WORDS } from "./words";

const TEXT = WORDS.grounds;

type Outlines = Schemas["Outlines"];
export type Box = [number, number, number, number];

/** One ground as it is drawn and told about. */
export interface Ground {
  number: number;
  diameterUm: number;
  minFeretUm: number;
  maxFeretUm: number;
  circularity: number;
  /** Why it does not count; empty when it does. */
  leftOut: string;
  split: boolean;
  /** Points x, y, x, y… in px of the photo. */
  points: Float32Array;
  box: Box;
}

/** The grounds of one photo: the machine's, with what corrections by hand change of them. */
export function useGrounds(sample: Schemas["SampleDetail"], index: number): Ground[] | null {
  const found = useOutlines(sample.id, sample.photos.length, index).data;
  const machine = useMemo(() => (found ? groundsOf(found) : null), [found]);
  const { review } = sample;
  return useMemo(() => {
    if (!machine) return null;
    const excluded = new Set(review.excluded),
      included = new Set(review.included),
      replaced = new Set(review.replaced);
    const made = review.made[index] ? groundsOf(review.made[index]) : [];
    const changed = machine.map((g) => {
      if (excluded.has(g.number)) return { ...g, leftOut: TEXT.byHand };
      return included.has(g.number) ? { ...g, leftOut: "" } : g;
    });
    return [...changed, ...made].filter((g) => !replaced.has(g.number));
  }, [machine, review, index]);
}

function groundsOf(o: Outlines): Ground[] {
  return o.number.map((number, i) => {
    const start = o.start[i]!,
      end = o.start[i + 1]!;
    const points = new Float32Array(2 * (end - start));
    const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
    for (let k = start; k < end; k++) {
      const x = o.x_px[k]!,
        y = o.y_px[k]!;
      points[2 * (k - start)] = x;
      points[2 * (k - start) + 1] = y;
      box[0] = Math.min(box[0], x);
      box[1] = Math.min(box[1], y);
      box[2] = Math.max(box[2], x);
      box[3] = Math.max(box[3], y);
    }
    return {
      number,
      points,
      box,
      diameterUm: o.diameter_um[i]!,
      minFeretUm: o.min_feret_um[i]!,
      maxFeretUm: o.max_feret_um[i]!,
      circularity: o.circularity[i]!,
      leftOut: o.left_out[i]!,
      split: o.split[i]!,
    };
  });
}

/** The smallest ground under a place of the photo, or the nearest within `reach` px. */
export function groundAt(grounds: Ground[], x: number, y: number, reach: number): Ground | null {
  let best: Ground | null = null,
    bestDistance = Infinity;
  for (const g of grounds) {
    if (g.leftOut === "shadow") continue;
    const [x0, y0, x1, y1] = g.box;
    if (x < x0 - reach || x > x1 + reach || y < y0 - reach || y > y1 + reach) continue;
    const middle = Math.hypot(x - (x0 + x1) / 2, y - (y0 + y1) / 2);
    const distance = inside(g.points, x, y) ? g.diameterUm * 1e-9 : Math.max(0, middle - (x1 - x0) / 2);
    if (distance <= reach && distance < bestDistance) {
      best = g;
      bestDistance = distance;
    }
  }
  return best;
}

function inside(points: Float32Array, x: number, y: number): boolean {
  let within = false;
  for (let i = 0, j = points.length - 2; i < points.length; j = i, i += 2) {
    const xi = points[i]!,
      yi = points[i + 1]!,
      xj = points[j]!,
      yj = points[j + 1]!;
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) within = !within;
  }
  return within;
}
