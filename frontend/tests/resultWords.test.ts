import { describe, expect, it } from "vitest";
import { percentWords, powerWords, said } from "../src/stations/practice/experiments/resultWords";

const NONE = { format: "hakari.experiment-result/1" as const };
const plain = (words: { verdict: string; detail: string }) =>
  `${words.verdict}. ${words.detail}`.replaceAll("\u00a0", " ");

describe("what an experiment says", () => {
  it("says of nothing that nothing was noted", () => {
    expect(said({ ...NONE, kind: "hand" }).verdict).toBe("nothing noted yet");
  });
  it("says of a triangle what guessing alone would do, and how many more rounds settle it", () => {
    const triangle = {
      rounds: 9,
      rights: 5,
      p_value: 0.145,
      told_apart: false,
      can_tell: 0.333,
      ci95_can_tell: [0, 0.74],
      rights_needed: 6,
      more_rounds: 21,
      tasters: [],
    };
    const words = plain(said({ ...NONE, kind: "triangle", triangle }));
    expect(words).toContain("not convincing yet");
    expect(words).toContain("5 or more of 9 come 14 % of the time");
    expect(words).toContain("about 21 more rounds settle it");
    const sure = said({
      ...NONE,
      kind: "triangle",
      triangle: { ...triangle, rights: 8, told_apart: true, p_value: 0.001 },
    });
    expect(sure.settled).toBe(true);
    expect(plain(sure)).toContain("they can be told apart");
  });
  it("names the way that a difference points, in the quantity's own words", () => {
    const body = { kind: "two-ways" as const, a: "cone", b: "flat", quantity: "time" as const, worth: 5, pairs: [] };
    const two_ways = { pairs: 5, mean: -12.3, sd: 2, ci95: [-15, -9.6], verdict: "different" as const, more_pairs: 0 };
    const words = plain(said({ ...NONE, kind: "two-ways", two_ways }, body));
    expect(words).toContain("Enough: flat is 12.3 s quicker");
    expect(words).toContain("−15.0 to −9.6 s");
    const alike = { ...two_ways, mean: 0.4, ci95: [-1, 1.8], verdict: "alike" as const };
    expect(said({ ...NONE, kind: "two-ways", two_ways: alike }, body).verdict).toBe(
      "Enough: no difference worth having",
    );
  });
  it("says how large the steps were that did, or did not, make a difference", () => {
    const grinds = [500, 565, 650].map((d50_um) => ({ setting: String(d50_um), d50_um }));
    const body = { kind: "three-grinds" as const, grinder: "mill", grinds, liked: "none" };
    const three_grinds = { time_per_size_found: null, time_per_size_predicted: null, time_off_percent: null };
    const of = (liked: string | null) =>
      plain(said({ ...NONE, kind: "three-grinds", three_grinds: { ...three_grinds, liked } }, body));
    expect(of("none")).toContain("Steps of 13 to 15 % in size made no difference to you");
    expect(of("565")).toContain("You tasted a difference at steps of 13 to 15 %");
    expect(of(null)).not.toContain("Steps");
  });
  it("does not call a step the best while liking does not bend", () => {
    const ladder = {
      values: [88, 91, 94],
      mean_liked: [2, 3, 4],
      peak: null,
      ci95: [88, 94],
      best: 94,
      decided: false,
    };
    const words = said({ ...NONE, kind: "ladder", ladder });
    expect(words.settled).toBe(false);
    expect(words.verdict).toContain("so far");
  });
  it("says small shares with a decimal, and tiny ones as less than a tenth", () => {
    expect([0, 0.0004, 0.0188, 0.14].map(percentWords)).toEqual(["0.0 %", "under 0.1 %", "1.9 %", "14 %"]);
  });
  it("says before a triangle begins what it can show", () => {
    const power = { rounds: 12, expected_can_tell: 0.5, rights_needed: 8, power: 0.63, rounds_for_80: 16 };
    expect(powerWords(power).replaceAll("\u00a0", " ")).toBe(
      "8 of 12 rights settle it. If the odd cup can be told in 50 % of rounds, that happens 63 % of the time. For four times in five take 16 rounds.",
    );
    expect(powerWords({ ...power, rights_needed: null })).toContain("settle nothing");
  });
});
