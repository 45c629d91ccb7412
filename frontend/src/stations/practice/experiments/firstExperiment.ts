import type { Schemas } from "../../../api/client";
import type { Body, Kind } from "../../../api/practice";
import { KIND_WORDS, WORDS } from "../words";

const TEXT = WORDS.firstExperiment;

/** What an experiment is called unless it is named: what is compared, else its kind. */
export function nameFor(kind: Kind, body: Body | null): string {
  if (body?.kind === "triangle" || body?.kind === "two-ways") return `${body.a} against ${body.b}`.slice(0, 80);
  return KIND_WORDS[kind].name;
}

/** What a kind begins with, from what is on the bench; nothing where that does not do. */
export function firstBody(kind: Kind, p: Schemas["Proposals"]): Body | null {
  switch (kind) {
    case "triangle":
      return { kind, a: TEXT.ribbedCone, b: TEXT.flatBottom, rounds: 12, expected_can_tell: 0.5, answers: [] };
    case "sieve":
      return p.sieve;
    case "three-grinds":
      return p.three_grinds ?? null;
    case "thirds":
      return p.thirds ?? null;
    case "two-ways":
      return { kind, a: p.brewer ?? TEXT.oneWay, b: TEXT.theOtherWay, quantity: "time", worth: 10, pairs: [] };
    case "hand":
      return p.hand;
    case "ladder":
      return p.ladders[0] ?? null;
  }
}
