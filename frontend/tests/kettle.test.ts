import { describe, expect, it } from "vitest";
import { FASTEST_G_S, later, STILL, wantedAt } from "../src/stations/practice/drills/kettle";

describe("the on-screen kettle", () => {
  it("pours the same in one step or in many", () => {
    const tilted = { ...STILL, tilt: 0.4 };
    let many = tilted;
    for (let i = 0; i < 100; i++) many = later(many, 0.05);
    const once = later(tilted, 5);
    expect(many.pouredG).toBeCloseTo(once.pouredG, 6);
    expect(many.rateGS).toBeCloseTo(0.4 * FASTEST_G_S, 4);
  });
  it("loses no water: what is poured is the rate over time", () => {
    let k = { ...STILL, tilt: 0.7 };
    let sum = 0;
    for (let i = 0; i < 400; i++) {
      const next = later(k, 0.01);
      sum += 0.01 * 0.5 * (k.rateGS + next.rateGS);
      k = i === 200 ? { ...next, tilt: 0.1 } : next;
    }
    expect(k.pouredG).toBeCloseTo(sum, 2);
  });
  it("stops when it is set upright, and never pours back", () => {
    const running = later({ ...STILL, tilt: 1 }, 3);
    const upright = later({ ...running, tilt: 0 }, 10);
    expect(upright.rateGS).toBeCloseTo(0, 6);
    expect(upright.pouredG).toBeGreaterThan(running.pouredG);
    expect(later({ ...STILL, tilt: -1 }, 4).pouredG).toBe(0);
  });
  it("reads a curve between its corners, and stays at its end", () => {
    const curve = [
      [0, 0],
      [10, 40],
      [30, 40],
      [50, 140],
    ];
    expect([0, 5, 20, 40, 99].map((t) => wantedAt(curve, t))).toEqual([0, 20, 40, 90, 140]);
  });
});
