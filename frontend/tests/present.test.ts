import { describe, expect, it } from "vitest";
import { endNotSeenWords, nextWords, presentOf } from "../src/stations/brew/present";

type Steps = Parameters<typeof presentOf>[0];
const step = (more: object) =>
  ({
    kind: "pour",
    at_s: 0,
    ends_s: 10,
    total_g: 50,
    amount_g: 50,
    words: "Pour to 50 g",
    bloom: false,
    waits: null,
    strength: null,
    ...more,
  }) as Steps[number];

const STEPS = [
  step({ bloom: true }),
  step({ kind: "wait", at_s: 10, ends_s: 45, waits: "level-back", words: "Wait until the level is back" }),
  step({ at_s: 45, ends_s: 65, total_g: 280, strength: "soft" }),
  step({ kind: "drain", at_s: 65, ends_s: 180 }),
] as Steps;

describe("the present moment of a brew", () => {
  it("shows the total to pour to, and what comes next", () => {
    const now = presentOf(STEPS, 0, 3);
    expect([now.above, now.huge, now.unit, now.tap]).toEqual(["Bloom: pour to", "50", "g", "Done"]);
    expect(now.until).toBe(10);
    expect(now.next).toMatch(/^then wait/);
  });

  it("counts down to a pour that is not due yet, and says what comes then", () => {
    const early = presentOf(STEPS, 2, 30);
    expect([early.huge, early.until, early.says]).toEqual(["280", 45, "begin"]);
    expect(early.tap).toBe("Start pouring");
    expect(presentOf(STEPS, 2, 46).above).toBe("Pour softly, to");
  });

  it("says what a wait waits for", () => {
    expect(presentOf(STEPS, 1, 20)).toMatchObject({ tap: "Start pouring", says: "done" });
  });

  it("says by how much the bed is late, and what may be going on", () => {
    expect(presentOf(STEPS, 3, 185).late).toBeUndefined();
    const late = presentOf(STEPS, 3, 220).late;
    expect(late?.s).toBe(40);
    expect(late?.words).toMatch(/level stands still, note that it stalled/);
  });

  it("is done after the last step", () => {
    expect(presentOf(STEPS, 4, 200)).toMatchObject({ huge: "Done", tap: "To the cup" });
  });

  it("names the last pour as the last", () => {
    expect(nextWords(STEPS, 1)).toBe("then at 0:45 pour to 280 g, the last");
    expect(nextWords(STEPS, 3)).toBe("");
  });
});

describe("a brew whose end was not seen", () => {
  it("names only what its method has", () => {
    expect(endNotSeenWords(true, "brewer")).toMatch(/tap next time/i);
    expect(endNotSeenWords(true, "brewer") + endNotSeenWords(true, "cup")).not.toMatch(/drain|bed/i);
    expect(endNotSeenWords(false, "brewer")).toMatch(/scale under the brewer does not see it drain/i);
    expect(endNotSeenWords(false, "cup")).toMatch(/brew it again/i);
  });
});
