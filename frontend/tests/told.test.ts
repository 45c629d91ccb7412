import { describe, expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import { readingWords } from "../src/stations/cup/WhatItWas";
import { entryOf, firstOf, NOTHING } from "../src/stations/cup/told";

const OUTCOME = {
  drawdown_s: 242, last_drip_s: 281, stalled: true, tds_percent: 1.43, drink_g: 252, taste: { sour: 2 },
  taste_cooled: { sweet: 1 }, bed: ["flat"], plunger_stuck: false, press_force: null, spent_dry_g: 13.2, liked: 4,
  added_water_g: 20, held_back_g: 30,
}; // prettier-ignore
const bench = (more: object = {}) =>
  ({ brew: null, target: "classical", change_first: "grind-first", ...more }) as unknown as Schemas["WorkbenchView"];
const slip = (more: object = {}) =>
  ({
    document: {
      outcome: OUTCOME, target: "classical", lean: null, note: "a note", water: "hard", gear_clean: false,
      coffee: { ground_age_h: 24 }, ...more,
    },
  }) as unknown as Schemas["SlipDetail"]; // prettier-ignore
/** A typed time, "4:02", in seconds. */
const seconds = (text: unknown) => {
  const [minutes = 0, rest = 0] = String(text).split(":").map(Number);
  return 60 * minutes + rest;
};

describe("the cup as entered", () => {
  it("is sent back as the slip had it", () => {
    const { told, target, changeFirst, lean } = firstOf(bench(), slip());
    const entry = entryOf(told, target, changeFirst, lean);
    const sent = entry.outcome!;
    expect({ ...sent, drawdown_s: seconds(sent.drawdown_s), last_drip_s: seconds(sent.last_drip_s) }).toEqual({
      ...OUTCOME, tds_percent: "1.43", drink_g: "252", spent_dry_g: "13.2", added_water_g: "20", held_back_g: "30",
    }); // prettier-ignore
    expect([entry.note, entry.water, entry.gear_clean, entry.ground_age_h]).toEqual(["a note", "hard", false, "24"]);
  });

  it("begins with what the brew showed, and asserts nothing that nobody said", () => {
    const brew = {
      bare_bed_s: 231.6,
      last_drip_s: null,
      stalled: false,
      drink_g: 251.7,
      added_water_g: null,
      bed: ["mounded"],
    };
    const { told } = firstOf(bench({ brew }));
    expect(told).toEqual({ ...NOTHING, bare: "3:52", drink: "252", bed: ["mounded"] });
    const entry = entryOf(NOTHING, { name: "classical", own: [] }, "grind-first", null);
    expect(Object.values(entry.outcome!).filter((v) => v !== null && v !== false)).toEqual([{}, {}, []]);
    expect(entry.gear_clean).toBeNull();
  });

  it("keeps a box of one's own as a box", () => {
    const own = slip({ target: { ey_percent: [17, 19.5], tds_percent: [1.2, 1.5] } });
    const first = firstOf(bench(), own);
    expect(entryOf(first.told, first.target, first.changeFirst, first.lean).target).toEqual({
      ey_percent: ["17", "19.5"],
      tds_percent: ["1.2", "1.5"],
    });
  });
});

describe("the cup in words", () => {
  const reading = { extraction: 0, strength: 0, time: 0, uneven: false };
  const words = (status: string, more: object = {}) =>
    readingWords({ status, reading: { ...reading, ...more } } as unknown as Schemas["AdviceDocument"]);

  it("judges nothing before it was tasted or measured", () => {
    expect(words("taste-first")).toBe("Not judged yet");
    expect(words("keep")).not.toBe(words("taste-first"));
    expect(words("change", { extraction: -1, strength: -1 })).toBe("Over-extracted, strong");
  });
});
