import { describe, expect, it } from "vitest";
import {
  dropsOwnPours,
  FIRST,
  fieldsOf,
  movedPour,
  recipeOf,
  replacedBy,
  withAmount,
  withoutAmount,
} from "../src/stations/plan/recipe";

const pour = (start_s: number | null, duration_s: number, water_g: number) =>
  ({ start_s, start_when: start_s === null ? "level-back" : null, duration_s, water_g, strength: "normal" }) as never;
const staged = () => [pour(0, 10, 50), pour(45, 20, 90), pour(90, 20, 90)] as Parameters<typeof movedPour>[0];
const STARTS = [0, 45, 90];
const water = (pours: { water_g: number }[]) => pours.reduce((sum, p) => sum + p.water_g, 0);

describe("the typed recipe", () => {
  it("sends only the two amounts that were given last", () => {
    const fields = withAmount({ ...FIRST }, "water", "300");
    expect(fields.given).toEqual(["water", "dose"]);
    const sent = recipeOf(fields);
    expect([sent.dose_g, sent.ratio, sent.water_g, sent.cup_g]).toEqual(["17", null, "300", null]);
    expect(withAmount(fields, "water", "310").given).toEqual(["water", "dose"]);
  });

  it("gives a cleared amount back as it follows, and touches no other figure", () => {
    const now = { dose: "20", ratio: "15", water: "300", cup: "262" };
    const typed = {
      ...FIRST,
      given: ["water", "dose"] as Parameters<typeof withAmount>[0]["given"],
      water: "300",
      dose: "20",
    };
    const cleared = withoutAmount(typed, "water", now);
    expect([cleared.given, cleared.dose, cleared.ratio]).toEqual([["dose", "ratio"], "20", "15"]);
    expect(withoutAmount(typed, "cup", now)).toBe(typed);
    for (const name of typed.given) expect(withoutAmount(typed, name, now).given).not.toContain(name);
  });

  it("offers to keep each figure that a style replaces", () => {
    const before = { ...FIRST, dose: "20", ratio: "14.2", heat: "88", school: "staged" };
    const after = { ...before, school: "split", ratio: "15", heat: "96" };
    const replaced = replacedBy(before, after);
    expect(replaced.map((r) => [r.words, r.now])).toEqual([
      ["1:14.2", "1:15"],
      ["88 °C", "96 °C"],
    ]);
    expect(replaced.reduce((f, r) => r.keep(f), after)).toMatchObject({ ratio: "14.2", heat: "88", school: "split" });
    expect(replacedBy(before, { ...before, ratio: "16" })).toEqual([]);
  });

  it("sends text as it was typed, for the server to read", () => {
    expect(recipeOf({ ...FIRST, dose: "18,5", heat: "203F" })).toMatchObject({ dose_g: "18,5", water_c: "203F" });
  });

  it("comes back from the server as it was", () => {
    const fields = fieldsOf({ ...recipeOf({ ...FIRST, school: "split", options: { pours: "4" }, lot: "B2" }) });
    expect(fields).toMatchObject({ given: ["dose", "ratio"], school: "split", options: { pours: "4" }, lot: "B2" });
  });

  it("keeps hand-set pours when an amount changes, and says when a choice would drop them", () => {
    const own = { ...FIRST, pours: staged() };
    expect(withAmount(own, "dose", "20").pours).toEqual(staged());
    expect(dropsOwnPours(own, withAmount(own, "dose", "20"))).toBe(false);
    expect(dropsOwnPours(own, { ...own, options: { stages: "2" }, pours: null })).toBe(true);
    expect(dropsOwnPours(FIRST, { ...FIRST, options: { stages: "2" } })).toBe(false);
  });
});

describe("a dragged pour", () => {
  it("takes water from the next pour and keeps the whole", () => {
    const moved = movedPour(staged(), STARTS, 1, 65, 160);
    expect(moved.map((p) => p.water_g)).toEqual([50, 110, 70]);
    expect(water(moved)).toBe(water(staged()));
  });

  it("never leaves a pour without water, wherever it is dragged", () => {
    for (const total of [-50, 0, 55, 400]) {
      const moved = movedPour(staged(), STARTS, 1, 65, total);
      expect(Math.min(...moved.map((p) => p.water_g))).toBeGreaterThanOrEqual(5);
      expect(water(moved)).toBe(230);
    }
  });

  it("stays between its neighbours in time", () => {
    for (const end of [-100, 0, 60, 100, 500]) {
      const [first, second, third] = movedPour(staged(), STARTS, 1, end, 140);
      expect(first!.start_s).toBe(0);
      expect(second!.start_s).toBeGreaterThanOrEqual(10);
      expect(second!.start_s! + second!.duration_s).toBeLessThanOrEqual(third!.start_s!);
    }
  });

  it("leaves the time of a pour alone that waits for the level", () => {
    const pours = [pour(0, 10, 50), pour(null, 20, 180)] as Parameters<typeof movedPour>[0];
    expect(movedPour(pours, [0, 60], 1, 150, 230)[1]!.start_s).toBeNull();
  });
});
