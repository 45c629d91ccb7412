import type { ReactNode } from "react";
import { useNavigate } from "react-router-dom";
import type { Schemas } from "../../../api/client";
import { useDrillWrites, type Drill } from "../../../api/practice";
import { useStationActions, type Action } from "../../../app/actions";
import { Margin } from "../../../ui/Margin";
import { Spark } from "../Spark";
import { DRILL_WORDS, WORDS } from "../words";

const TEXT = WORDS.drillParts;

export type Question = Schemas["QuestionView"];
export type Verdict = Schemas["DrillVerdict"];

/** What a drill's own part is given: the question, how it was judged, and how to answer. */
export interface Asked {
  question: Question;
  verdict: Verdict | null;
  answer: (text: string) => void;
  next: () => void;
  error: unknown;
}

/** Bind answers and "next" of a drill to the action bar. */
export function useDrillActions(drill: Drill, verdict: Verdict | null, next: () => void, choices: Action[]) {
  const navigate = useNavigate();
  useStationActions(DRILL_WORDS[drill].question, [
    { key: "B", label: TEXT.allOfPractice, run: () => navigate("/practice") },
    ...(verdict ? [{ key: "Space", label: TEXT.next, main: true, run: next }] : choices),
  ]);
}

/** How the drill goes, beside it. */
export function DrillMargin({ view, children }: { view: Schemas["DrillView"]; children?: ReactNode }) {
  const { forget } = useDrillWrites();
  return (
    <Margin label={TEXT.howItGoes}>
      <h2>{DRILL_WORDS[view.drill].name}</h2>
      {children}
      <Spark drill={view} />
      <ul className="rows">
        <li>
          <span>{TEXT.answers}</span>
          <span className="figure">{view.answers}</span>
        </li>
        {view.right_share != null && (
          <li>
            <span>{TEXT.good}</span>
            <span className="figure">{Math.round(100 * view.right_share)} %</span>
          </li>
        )}
        {view.bias && (
          <>
            <li>
              <span>{TEXT.youGuessBy(view.bias.bias_percent < 0)}</span>
              <span className="figure">{Math.abs(view.bias.bias_percent).toFixed(0)} %</span>
            </li>
            <li>
              <span>{TEXT.n95Interval}</span>
              <span className="figure">{view.bias.ci95_percent.map((v) => Math.round(v)).join(" to ")} %</span>
            </li>
          </>
        )}
        {view.threshold && (
          <>
            <li>
              <span>{TEXT.youTellApart}</span>
              <span className="figure">{view.threshold.percent.toFixed(0)} %</span>
            </li>
            <li>
              <span>{TEXT.n95Interval}</span>
              <span className="figure">{view.threshold.ci95_percent.map((v) => v.toFixed(0)).join(" to ")} %</span>
            </li>
          </>
        )}
      </ul>
      {(view.drill === "finer" || view.drill === "fines") && (
        <p className="quiet drill-note">
          {view.threshold ? TEXT.toldRightThreeTimesInFour : TEXT.fromTwelvePairsOnTheSmallest}
        </p>
      )}
      {view.answers > 0 && (
        <button className="link" onClick={() => forget.mutate(view.drill)}>
          {TEXT.beginThisDrillAgain}
        </button>
      )}
    </Margin>
  );
}
