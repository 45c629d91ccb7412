import type { Schemas } from "../api/client";

type Window = Schemas["WindowView"];

const NAMED = 3;

/** How far a grind lies from the middle of a window, in half widths of it: up to 1 is inside. */
export function distanceFrom(window: Window, d50: number): number {
  const middle = Math.log(window.low_um * window.high_um) / 2;
  return Math.abs(Math.log(d50) - middle) / (Math.log(window.high_um / window.low_um) / 2);
}

/** The plan's method first, then the windows nearest to the grind; a few, so that each can be named. */
export function nearestWindows(windows: Window[], d50: number, method?: string): Window[] {
  const near = [...windows].sort((a, b) => distanceFrom(a, d50) - distanceFrom(b, d50));
  const own = near.find((w) => w.method === method);
  return [...(own ? [own] : []), ...near.filter((w) => w !== own)].slice(0, NAMED);
}
