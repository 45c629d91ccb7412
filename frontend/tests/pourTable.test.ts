import { describe, expect, it } from "vitest";
import * as table from "../src/stations/plan/pourTable";
import type { Poured } from "../src/stations/plan/pourTable";

const pour = (water_g: number, duration_s: number, start_s: number | null, start_when: "drained" | null = null) => ({
  water_g,
  duration_s,
  start_s,
  start_when,
  strength: "normal" as const,
  where: "spiral" as const,
});

/** A bloom with a swirl, two timed pours, and one that waits until it has drained. */
const brew: Poured = {
  pours: [pour(40, 8, 0), pour(80, 15, 40), pour(80, 15, 75), pour(80, 15, null, "drained")],
  actions: [
    { at_s: 12, do: "swirl" },
    { at_s: 93, do: "stir" },
  ],
  starts: [0, 40, 75, 130],
};
const water = (t: Poured) => t.pours.reduce((sum, p) => sum + p.water_g, 0);
const starts = (t: Poured) => t.pours.map((_, i) => table.startOf(t, i));

describe("the pour table", () => {
  it("moves a pour up in the order while the times stay in theirs", () => {
    const own: Poured = { ...brew, pours: [pour(40, 8, 0), pour(60, 30, 40), pour(100, 10, 75)], starts: [0, 40, 75] };
    const moved = table.movedUp(own, 2);
    expect(moved.pours.map((p) => [p.water_g, p.duration_s, p.start_s])).toEqual([
      [40, 8, 0],
      [100, 10, 40],
      [60, 30, 75],
    ]);
    // A long pour that comes first pushes the next one back.
    const long = table.movedUp({ ...own, pours: [pour(40, 8, 0), pour(60, 10, 40), pour(100, 50, 75)] }, 2);
    expect(long.pours[2]!.start_s).toBe(90);
    expect(table.movedUp(own, 0)).toBe(own);
  });

  it("says what follows each pour", () => {
    expect([0, 1, 2, 3].map((i) => table.afterOf(brew, i))).toEqual(["swirl", "", "stir", ""]);
  });

  it("keeps all of the water, whatever is done to one pour", () => {
    const changed = [
      table.withTotal(brew, 1, 150),
      table.withTotal(brew, 1, 9999),
      table.withTotal(brew, 0, 0),
      table.split(brew, 2),
      table.removed(brew, 0),
      table.removed(brew, 3),
      table.withStart(brew, 2, 90),
      table.withEvent(brew, 1, "half"),
      table.movedUp(brew, 2),
      table.movedUp(brew, 3),
    ];
    for (const t of changed) {
      expect(water(t)).toBeCloseTo(280);
      expect(Math.min(...t.pours.map((p) => p.water_g))).toBeGreaterThan(0);
      expect(starts(t)[0]).toBe(0);
    }
    expect(table.totalAt(changed[0]!.pours, 1)).toBe(150);
  });

  it("takes what follows a pour along in time, and nothing else", () => {
    const later = table.withStart(brew, 2, 85);
    expect(later.actions).toEqual([
      { at_s: 12, do: "swirl" },
      { at_s: 103, do: "stir" },
    ]);
    expect(later.pours[2]).toMatchObject({ start_s: 85, start_when: null });
  });

  it("does one thing after a pour, soon after it ends", () => {
    const stirred = table.withAfter(brew, 0, "stir");
    expect(stirred.actions[0]).toEqual({ at_s: 10, do: "stir" });
    expect(table.afterOf(stirred, 0)).toBe("stir");
    expect(table.withAfter(stirred, 0, "").actions).toEqual([{ at_s: 93, do: "stir" }]);
    const valve = { ...brew, actions: [{ at_s: 45, do: "open-valve" as const }] };
    expect(table.withAfter(valve, 1, "").actions).toEqual(valve.actions);
  });

  it("splits a pour into halves in order, and removing one gives its water on", () => {
    const halves = table.split(brew, 1);
    expect(halves.pours.map((p) => p.water_g)).toEqual([40, 40, 40, 80, 80]);
    expect(starts(halves)).toEqual([...starts(halves)].sort((a, b) => a - b));
    expect(table.removed(halves, 2).pours.map((p) => p.water_g)).toEqual([40, 40, 120, 80]);
    expect(table.removed(brew, 2).actions).toEqual([{ at_s: 12, do: "swirl" }]);
    const one = { ...brew, pours: [brew.pours[0]!] };
    expect(table.removed(one, 0)).toBe(one);
  });

  it("reads times as people type them", () => {
    expect(["1:15", "75", "75 s", " 0:05 ", "2.30"].map(table.secondsOf)).toEqual([75, 75, 75, 5, 150]);
    expect(["", "soon", "1:7", "-3"].map(table.secondsOf)).toEqual([null, null, null, null]);
  });
});
