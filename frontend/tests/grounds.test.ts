import { describe, expect, it } from "vitest";
import { along, heightOf } from "../src/charts/grainRuler/curve";
import { log, spread } from "../src/charts/scales";
import { distanceFrom, nearestWindows } from "../src/charts/windows";
import { groundAt, type Ground } from "../src/stations/measure/grounds";

/** A round ground: whether a place lies in it is known without its outline. */
function round(number: number, x: number, y: number, radius: number, leftOut = ""): Ground {
  const points = Float32Array.from({ length: 128 }, (_, i) => {
    const angle = (Math.PI * (i - (i % 2))) / 64;
    return i % 2 ? y + radius * Math.sin(angle) : x + radius * Math.cos(angle);
  });
  const feret = 20 * radius;
  return {
    number, points, leftOut, diameterUm: feret, minFeretUm: feret, maxFeretUm: feret, circularity: 1, split: false,
    box: [x - radius, y - radius, x + radius, y + radius],
  }; // prettier-ignore
}

describe("the ground under a place", () => {
  const grounds = [
    round(0, 100, 100, 40),
    round(1, 110, 100, 8),
    round(2, 200, 100, 10),
    round(3, 300, 100, 30, "shadow"),
  ];

  it("is the one that holds it, by the distance from its middle", () => {
    for (let x = 150; x <= 250; x += 3)
      for (let y = 80; y <= 120; y += 3) {
        const distance = Math.hypot(x - 200, y - 100);
        // Near the rim the outline's corners decide.
        if (Math.abs(distance - 10) < 0.5 || Math.hypot(x - 100, y - 100) < 45) continue;
        expect(groundAt(grounds, x, y, 0.1)?.number).toBe(distance < 10 ? 2 : undefined);
      }
  });

  it("is the smallest of those that lie over each other, and never a shadow", () => {
    expect(groundAt(grounds, 110, 100, 0.1)?.number).toBe(1);
    expect(groundAt(grounds, 70, 100, 0.1)?.number).toBe(0);
    expect(groundAt(grounds, 300, 100, 5)).toBeNull();
  });

  it("is the nearest within reach of a finger, and none beyond", () => {
    expect(groundAt(grounds, 215, 100, 8)?.number).toBe(2);
    expect(groundAt(grounds, 225, 100, 8)).toBeNull();
  });
});

describe("the curve's drawing", () => {
  it("stands on its base, reaches its top at the peak, and leaves out what is off the axis", () => {
    const x = log([100, 1000], [0, 600]);
    const points = along([50, 100, 316.228, 1000, 2000], [1, 0, 2, 1, 1], x, 300, 2);
    expect(points.map(([at]) => Math.round(at))).toEqual([0, 300, 600]);
    expect(points.map(([, y]) => y)).toEqual([300, heightOf(2, 2, 300), heightOf(1, 2, 300)]);
    expect(heightOf(2, 2, 300)).toBeLessThan(heightOf(1, 2, 300));
    expect(along([100, 200], [1, 1], x, 300, 2, 150)).toHaveLength(1);
  });

  it("moves labels apart in their order, within their room, and no farther than it must", () => {
    const moved = spread([100, 104, 300, 102], 20, 0, 400);
    const order = [0, 3, 1].map((i) => moved[i]!);
    expect(order[1]! - order[0]!).toBeGreaterThanOrEqual(19.9);
    expect(order[2]! - order[1]!).toBeGreaterThanOrEqual(19.9);
    expect(moved[2]).toBe(300);
    expect((order[0]! + order[1]! + order[2]!) / 3).toBeCloseTo(102, 0);
    for (const at of spread([-5, 2, 398, 500], 10, 0, 400)) expect(at).toBeGreaterThanOrEqual(0);
    expect(spread([10, 90], 20, 0, 100)).toEqual([10, 90]);
  });
});

describe("the windows that are named", () => {
  type Window = Parameters<typeof distanceFrom>[0];
  const window = (method: string, low_um: number, high_um: number) =>
    ({ method, label: method, low_um, high_um }) as Window;
  const windows = [
    window("tube", 200, 400),
    window("cone", 600, 850),
    window("press", 900, 1300),
    window("jar", 1200, 1900),
  ];

  it("measure a distance of one half width at both ends, and none in the middle", () => {
    expect(distanceFrom(windows[1]!, 600)).toBeCloseTo(1);
    expect(distanceFrom(windows[1]!, 850)).toBeCloseTo(1);
    expect(distanceFrom(windows[1]!, Math.sqrt(600 * 850))).toBeCloseTo(0);
  });

  it("are the plan's own first, then the nearest", () => {
    expect(nearestWindows(windows, 700).map((w) => w.method)).toEqual(["cone", "press", "tube"]);
    expect(nearestWindows(windows, 700, "tube").map((w) => w.method)).toEqual(["tube", "cone", "press"]);
  });
});
