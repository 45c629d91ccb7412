import { describe, expect, it } from "vitest";
import { nearestWindows } from "../src/charts/windows";
import { groundAt, type Ground } from "../src/stations/measure/grounds";
import { about, between, clock, readNumber } from "../src/ui/words";

describe("numbers in words", () => {
  it("prints times as a barista reads them", () => {
    expect([0, 59.6, 225, 7199, 7200, 43200, 45000].map(clock)).toEqual([
      "0:00",
      "1:00",
      "3:45",
      "119:59",
      "2 h",
      "12 h",
      "12:30 h",
    ]);
  });

  it("prints how far off a time may be no finer than that is known", () => {
    expect([51.4, 119, 700, 7027, 40000].map(about)).toEqual(["51 s", "119 s", "12 min", "117 min", "11 h"]);
  });

  it("prints an interval", () => {
    expect(between([590.4, 1634])).toBe("590 to 1,634");
  });

  it("reads numbers with a comma and a unit, and nothing else", () => {
    expect(readNumber("18,5", "g")).toBe(18.5);
    expect(readNumber("300 µm", "µm")).toBe(300);
    expect(readNumber("3 spoons", "g")).toBeNaN();
  });
});

describe("windows of methods near a grind", () => {
  const window = (method: string, low_um: number, high_um: number) => ({ method, low_um, high_um }) as never;
  const all = [
    window("a", 200, 400),
    window("b", 600, 900),
    window("c", 700, 1000),
    window("d", 900, 1400),
    window("e", 50, 90),
  ];

  it("names the plan's own method first, then the nearest ones", () => {
    expect(nearestWindows(all, 750, "e").map((w) => w.method)).toEqual(["e", "b", "c"]);
    expect(nearestWindows(all, 750).map((w) => w.method)).toEqual(["b", "c", "d"]);
  });
});

describe("the ground under a pointer", () => {
  const square = (number: number, x: number, y: number, half: number, leftOut = "") =>
    ({
      number,
      leftOut,
      diameterUm: 2 * half,
      points: new Float32Array([x - half, y - half, x + half, y - half, x + half, y + half, x - half, y + half]),
      box: [x - half, y - half, x + half, y + half],
    }) as Ground;

  it("prefers the smaller of two that cover the place, and the nearest in reach", () => {
    const grounds = [square(1, 50, 50, 30), square(2, 55, 50, 5), square(3, 200, 50, 5)];
    expect(groundAt(grounds, 56, 51, 4)?.number).toBe(2);
    expect(groundAt(grounds, 30, 30, 4)?.number).toBe(1);
    expect(groundAt(grounds, 207, 50, 4)?.number).toBe(3);
    expect(groundAt(grounds, 400, 400, 4)).toBeNull();
  });

  it("does not pick shadows", () => {
    expect(groundAt([square(1, 50, 50, 30, "shadow")], 50, 50, 4)).toBeNull();
  });
});
