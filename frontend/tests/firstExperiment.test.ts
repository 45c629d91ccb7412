import { describe, expect, it } from "vitest";
import { firstBody, nameFor } from "../src/stations/practice/experiments/firstExperiment";
import { KIND_WORDS } from "../src/stations/practice/words";
import { endingWords, type Ending } from "../src/ui/steeps";

type Proposals = Parameters<typeof firstBody>[1];
type Kind = Parameters<typeof firstBody>[0];
const KINDS = Object.keys(KIND_WORDS) as Kind[];
const bench = (more: object = {}) =>
  ({
    brewer: "ribbed cone",
    sieve: { kind: "sieve" },
    three_grinds: null,
    thirds: undefined,
    hand: { kind: "hand" },
    ladders: [],
    ...more,
  }) as unknown as Proposals;

describe("what an experiment begins with", () => {
  it("is of its own kind, or nothing where the bench does not do for it", () => {
    const begun = Object.fromEntries(KINDS.map((kind) => [kind, firstBody(kind, bench())?.kind ?? null]));
    expect(begun).toEqual({
      triangle: "triangle", sieve: "sieve", "three-grinds": null, thirds: null, "two-ways": "two-ways", hand: "hand",
      ladder: null,
    }); // prettier-ignore
    const ladder = { kind: "ladder", steps: 4 };
    expect(firstBody("ladder", bench({ ladders: [ladder, { kind: "ladder" }] }))).toBe(ladder);
  });

  it("of two ways is the brewer on the bench against another, and a triangle has rounds enough to tell", () => {
    expect(firstBody("two-ways", bench())).toMatchObject({ a: "ribbed cone", pairs: [] });
    const without = firstBody("two-ways", bench({ brewer: null }));
    expect(without?.kind === "two-ways" && without.a.length > 0 && without.a !== without.b).toBe(true);
    const triangle = firstBody("triangle", bench());
    // By guessing alone a third is right: of twelve, all twelve by chance once in half a million.
    expect(triangle?.kind === "triangle" && (1 / 3) ** triangle.rounds!).toBeLessThan(1e-5);
  });

  it("is called by what it compares, else by its kind, and never longer than a name may be", () => {
    for (const kind of KINDS) {
      const body = firstBody(kind, bench());
      const name = nameFor(kind, body);
      if (body?.kind === "triangle" || body?.kind === "two-ways") expect(name).toBe(`${body.a} against ${body.b}`);
      else expect(name).toBe(KIND_WORDS[kind].name);
    }
    const long = { ...firstBody("two-ways", bench()), a: "a".repeat(90) } as ReturnType<typeof firstBody>;
    expect(nameFor("two-ways", long).length).toBe(80);
  });
});

describe("how a steep ends", () => {
  const endings: Ending[] = ["press", "skim", "draw-off", "draw-down", "off-heat"];

  it("is said in each brewer's own words, with its caution, and a press is what is meant without any", () => {
    const words = endings.map(endingWords);
    for (const part of ["done", "before", "now", "tap", "care"] as const)
      expect(new Set(words.map((w) => w[part])).size).toBe(endings.length);
    for (const w of words) for (const text of Object.values(w)) expect(text).toMatch(/\S/);
    expect(endingWords(null)).toBe(endingWords("press"));
    expect(endingWords(undefined)).toBe(endingWords("press"));
  });
});
