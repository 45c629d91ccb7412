import type { Schemas } from "../../api/client";
import { capital, clock } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.whatItWas;

const AXES = {
  extraction: { [1]: "under-extracted", [-1]: "over-extracted" },
  strength: { [1]: "weak", [-1]: "strong" },
  time: { [1]: TEXT.fasterThanWanted, [-1]: "slow" },
} as const;

/** What is wrong in words, as the evidence was read; what is right in words where nothing is. */
export function readingWords(advice: Pick<Schemas["AdviceDocument"], "reading" | "status">): string {
  const r = advice.reading!;
  const axes = (["extraction", "strength", "time"] as const).flatMap((axis) => {
    const way = r[axis] as 1 | 0 | -1;
    return way ? [AXES[axis][way]] : [];
  });
  const wrong = [...(r.uneven ? [TEXT.sourAndBitterAtOnceUneven] : []), ...axes];
  if (wrong.length) return capital(wrong.join(", "));
  // An estimate alone says neither good nor bad.
  if (advice.status === "taste-first") return TEXT.notJudgedYet;
  return advice.status === "keep" ? TEXT.goodAsItIs : TEXT.nothingWrongInStrengthOr;
}

/** The cup in one line: how it is read, and its figures with where each comes from. */
export function WhatItWas({ cup, ending }: { cup: Schemas["CupView"]; ending: boolean }) {
  const { now, measured } = cup.advice;
  const from = (name: string) => (measured!.includes(name) ? "measured" : "estimated");
  const goal = cup.goal_time_s;
  const figures: [string, string][] = [
    [`${now.tds_percent.toFixed(2)} %`, `strength, ${from("tds_percent")}`],
    [`${now.ey_percent.toFixed(1)} %`, `extracted, ${from("ey_percent")}`],
  ];
  if (!ending && measured!.includes("drawdown_s")) figures.push([clock(now.drawdown_s), "timed"]);
  return (
    <p className="what-it-was" data-testid="what-it-was">
      <strong>{readingWords(cup.advice)}.</strong>{" "}
      {figures.map(([value, source]) => (
        <span key={value}>
          <span className="figure">{value}</span> {source}
        </span>
      ))}
      {goal && (
        <span>
          {TEXT.askedFor} <span className="figure">{[...new Set(goal.map((s) => clock(s)))].join(" to ")}</span>
        </span>
      )}
    </p>
  );
}
