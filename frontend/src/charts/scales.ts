import { useCallback, useState } from "react";

/** The size of an element, followed as it changes. */
export function useSize(): [(node: HTMLElement | null) => void, { width: number; height: number }] {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [observer] = useState(
    () =>
      new ResizeObserver((entries) => {
        const box = entries[0]?.contentRect;
        if (box) setSize({ width: Math.round(box.width), height: Math.round(box.height) });
      }),
  );
  const ref = useCallback(
    (node: HTMLElement | null) => {
      observer.disconnect();
      if (node) observer.observe(node);
    },
    [observer],
  );
  return [ref, size];
}

export interface Scale {
  (value: number): number;
  invert: (px: number) => number;
  domain: [number, number];
}

export function linear(domain: [number, number], range: [number, number]): Scale {
  const k = (range[1] - range[0]) / (domain[1] - domain[0]);
  const scale = (v: number) => range[0] + (v - domain[0]) * k;
  return Object.assign(scale, { invert: (px: number) => domain[0] + (px - range[0]) / k, domain });
}

export function log(domain: [number, number], range: [number, number]): Scale {
  const inner = linear([Math.log(domain[0]), Math.log(domain[1])], range);
  return Object.assign((v: number) => inner(Math.log(Math.max(v, 1e-9))), {
    invert: (px: number) => Math.exp(inner.invert(px)),
    domain,
  });
}

const SIZE_TICKS = [30, 40, 50, 60, 80, 100, 150, 200, 300, 400, 500, 600, 700, 800, 1000, 1200, 1500, 2000, 2500, 3000, 4000];

/** Ticks of a size axis that have room, the round ones first. */
export function sizeTicks(scale: Scale, room = 42): number[] {
  const [low, high] = scale.domain;
  const round = [100, 1000, 200, 500, 50, 300, 2000, 700, 400, 1500, 600, 800, 150, 1200, 30, 60, 80, 40, 2500, 3000];
  const kept: number[] = [];
  for (const t of round) {
    if (t < low * 0.999 || t > high * 1.001 || !SIZE_TICKS.includes(t)) continue;
    if (kept.every((k) => Math.abs(scale(k) - scale(t)) >= room)) kept.push(t);
  }
  return kept.sort((a, b) => a - b);
}

export const line = (points: [number, number][]) => points.map(([x, y], i) => `${i ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`).join("");

/** Shift labels along one axis so that none is nearer than `room` to the next; order is kept. */
export function spread(at: number[], room: number, low: number, high: number): number[] {
  const order = at.map((_, i) => i).sort((a, b) => at[a]! - at[b]!);
  const placed = [...at];
  for (let pass = 0; pass < 40; pass++) {
    for (let k = 1; k < order.length; k++) {
      const a = order[k - 1]!, b = order[k]!;
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
