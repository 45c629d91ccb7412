import { useEffect, useState, type ReactNode } from "react";
import { useNavigate, useParams } from "react-router-dom";
import type { Schemas } from "../../../api/client";
import { useDrills, useDrillWrites, type Drill } from "../../../api/practice";
import { useStationActions } from "../../../app/actions";
import { QueryBoundary, Trouble, Waiting } from "../../../ui/parts";
import { DRILL_WORDS, WORDS } from "../words";
import { DialDrill } from "./DialDrill";
import { EyePair } from "./EyePair";
import { EyeSize } from "./EyeSize";
import { DrillMargin, type Asked, type Verdict } from "./drillParts";
import { PourDrill } from "./PourDrill";
import { WordDrill } from "./WordDrill";

const TEXT = WORDS.drillPage;

/** One drill: a question after the other, the next that is due. */
export function DrillPage() {
  const { drill } = useParams<{ drill: string }>();
  const drills = useDrills();
  const found = drills.data?.find((d) => d.drill === drill);
  return (
    <QueryBoundary query={drills}>
      {!found ? (
        <div className="empty">
          <h1>{TEXT.thereIsNoSuchDrill}</h1>
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
  useStationActions("", [{ key: "Space", label: TEXT.setUpAGrinder, main: true, run: () => navigate("/grinders") }]);
  return (
    <div className="empty">
      <h1>{DRILL_WORDS.dial.name}</h1>
      <p>{TEXT.setUpAGrinderFirstItsDial}</p>
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
        <Waiting>{TEXT.choosing}</Waiting>
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
            <strong>{verdict.well ? TEXT.right : TEXT.notThisTime}</strong>
          </p>
        )}
      </DrillMargin>
    </div>
  );
}
