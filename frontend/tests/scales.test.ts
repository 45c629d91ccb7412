import { describe, expect, it } from "vitest";
import { ends, line, linear, log, sizeTicks, spread } from "../src/charts/scales";

describe("scales", () => {
  it("puts equal ratios at equal distances on a logarithmic axis", () => {
    const x = log([50, 3200], [40, 640]);
    expect(x(100) - x(50)).toBeCloseTo(100);
    expect(x(3200) - x(1600)).toBeCloseTo(100);
    expect(x.invert(x(742))).toBeCloseTo(742);
    expect(ends(x)).toEqual([50, 3200]);
  });

  it("runs linearly between its ends, downwards too", () => {
    const y = linear([0, 20], [200, 0]);
    expect([y(0), y(5), y(20)]).toEqual([200, 150, 0]);
  });

  it("keeps size ticks apart, in order, inside the axis, with the round ones first", () => {
    const wide = log([36, 4000], [0, 1200]);
    const narrow = log([36, 4000], [0, 220]);
    for (const x of [wide, narrow]) {
      const ticks = sizeTicks(x, 42);
      const gaps = ticks.slice(1).map((t, i) => x(t) - x(ticks[i]!));
      expect(Math.min(...gaps)).toBeGreaterThanOrEqual(42);
      expect(ticks[0]).toBeGreaterThanOrEqual(36);
      expect(ticks).toContain(100);
      expect(ticks).toContain(1000);
    }
    expect(sizeTicks(narrow).length).toBeLessThan(sizeTicks(wide).length);
  });

  it("draws a path through its points", () => {
    expect(
      line([
        [0, 1.25],
        [10, 2],
        [20, 3],
      ]),
    ).toMatch(/^M0,1\.[23]L10,2L20,3$/);
    expect(line([])).toBe("");
  });
});

describe("labels along an axis", () => {
  it("moves labels apart without changing their order or leaving the axis", () => {
    const placed = spread([100, 102, 104, 300], 20, 0, 400);
    for (let i = 1; i < 3; i++) expect(placed[i]! - placed[i - 1]!).toBeGreaterThan(19);
    expect(placed[3]).toBe(300);
    const crowded = spread([395, 396, 398], 20, 0, 400);
    expect(Math.max(...crowded)).toBeLessThanOrEqual(400);
    expect([...crowded].sort((a, b) => a - b)).toEqual(crowded);
  });

  it("leaves labels that have room where they are", () => {
    expect(spread([10, 50, 90], 20, 0, 100)).toEqual([10, 50, 90]);
  });
});
