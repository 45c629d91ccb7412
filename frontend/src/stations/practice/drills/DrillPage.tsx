import { useEffect, useState, type ReactNode } from "react";
import { useNavigate, useParams } from "react-router-dom";
import type { Schemas } from "../../../api/client";
import { useDrills, useDrillWrites, type Drill } from "../../../api/practice";
import { useStationActions, type Action } from "../../../app/actions";
import { Margin } from "../../../ui/Margin";
import { QueryBoundary, Trouble, Waiting } from "../../../ui/parts";
import { Spark } from "../Spark";
import { DRILL_WORDS } from "../words";
import { DialDrill } from "./DialDrill";
import { EyePair } from "./EyePair";
import { EyeSize } from "./EyeSize";
import { PourDrill } from "./PourDrill";
import { WordDrill } from "./WordDrill";

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

/** One drill: a question after the other, the next that is due. */
export function DrillPage() {
  const { drill } = useParams<{ drill: string }>();
  const drills = useDrills();
  const found = drills.data?.find((d) => d.drill === drill);
  return (
    <QueryBoundary query={drills}>
      {!found ? (
        <div className="empty">
          <h1>There is no such drill</h1>
        </div>
      ) : found.items === 0 ? (
        <Missing />
      ) : found.drill === "pour" ? (
        <PourDrill view={found} />
      ) : (
        <AskedDrill key={found.drill} drill={found.drill} view={found} />
      )}
    </QueryBoundary>
  );
}

function Missing() {
  const navigate = useNavigate();
  useStationActions("", [{ key: "Space", label: "Set up a grinder", main: true, run: () => navigate("/grinders") }]);
  return (
    <div className="empty">
      <h1>{DRILL_WORDS.dial.name}</h1>
      <p>Set up a grinder first; its dial is asked here.</p>
    </div>
  );
}

const PARTS: Record<Exclude<Drill, "pour">, (asked: Asked) => ReactNode> = {
  size: (asked) => <EyeSize key={asked.question.id} {...asked} />,
  finer: (asked) => <EyePair key={asked.question.id} {...asked} />,
  fines: (asked) => <EyePair key={asked.question.id} {...asked} />,
  words: (asked) => <WordDrill key={asked.question.id} {...asked} />,
  dial: (asked) => <DialDrill key={asked.question.id} {...asked} />,
};

function AskedDrill({ drill, view }: { drill: Exclude<Drill, "pour">; view: Schemas["DrillView"] }) {
  const { ask, answer } = useDrillWrites();
  const [verdict, setVerdict] = useState<Verdict | null>(null);
  const question = ask.data ?? null;
  function next() {
    setVerdict(null);
    answer.reset();
    ask.mutate(drill);
  }
  const { mutate } = ask;
  useEffect(() => mutate(drill), [mutate, drill]);
  if (ask.error)
    return (
      <div className="empty">
        <Trouble error={ask.error} retry={next} />
      </div>
    );
  if (!question)
    return (
      <div className="empty">
        <Waiting>Choosing</Waiting>
      </div>
    );
  return (
    <div className="station-page">
      {PARTS[drill]({
        question,
        verdict,
        next,
        error: answer.error,
        answer: (text) =>
          !verdict && !answer.isPending && answer.mutate({ id: question.id, answer: text }, { onSuccess: setVerdict }),
      })}
      <DrillMargin view={verdict?.drill ?? view}>
        {verdict && (
          <p className="drill-verdict" role="status" data-well={verdict.well}>
            <strong>{verdict.well ? "Right." : "Not this time."}</strong>
          </p>
        )}
      </DrillMargin>
    </div>
  );
}

/** Bind answers and "next" of a drill to the action bar. */
export function useDrillActions(drill: Drill, verdict: Verdict | null, next: () => void, choices: Action[]) {
  const navigate = useNavigate();
  useStationActions(DRILL_WORDS[drill].question, [
    { key: "B", label: "All of Practice", run: () => navigate("/practice") },
    ...(verdict ? [{ key: "Space", label: "Next", main: true, run: next }] : choices),
  ]);
}

/** How the drill goes, beside it. */
export function DrillMargin({ view, children }: { view: Schemas["DrillView"]; children?: ReactNode }) {
  const { forget } = useDrillWrites();
  return (
    <Margin label="How it goes">
      <h2>{DRILL_WORDS[view.drill].name}</h2>
      {children}
      <Spark drill={view} />
      <ul className="rows">
        <li>
          <span>Answers</span>
          <span className="figure">{view.answers}</span>
        </li>
        {view.right_share != null && (
          <li>
            <span>Good</span>
            <span className="figure">{Math.round(100 * view.right_share)} %</span>
          </li>
        )}
        {view.bias && (
          <>
            <li>
              <span>You guess {view.bias.bias_percent < 0 ? "small" : "large"}, by</span>
              <span className="figure">{Math.abs(view.bias.bias_percent).toFixed(0)} %</span>
            </li>
            <li>
              <span>95 % interval</span>
              <span className="figure">{view.bias.ci95_percent.map((v) => Math.round(v)).join(" to ")} %</span>
            </li>
          </>
        )}
        {view.threshold && (
          <>
            <li>
              <span>You tell apart</span>
              <span className="figure">{view.threshold.percent.toFixed(0)} %</span>
            </li>
            <li>
              <span>95 % interval</span>
              <span className="figure">{view.threshold.ci95_percent.map((v) => v.toFixed(0)).join(" to ")} %</span>
            </li>
          </>
        )}
      </ul>
      {(view.drill === "finer" || view.drill === "fines") && (
        <p className="quiet drill-note">
          {view.threshold
            ? "Told right three times in four. Measure says it beside what a photo tells apart."
            : "From twelve pairs on, the smallest difference that you see is said here."}
        </p>
      )}
      {view.answers > 0 && (
        <button className="link" onClick={() => forget.mutate(view.drill)}>
          Begin this drill again
        </button>
      )}
    </Margin>
  );
}
