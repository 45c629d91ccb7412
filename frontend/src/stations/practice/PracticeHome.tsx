import { Link, useNavigate } from "react-router-dom";
import type { Schemas } from "../../api/client";
import { useDrills, useExperiments } from "../../api/practice";
import { useStationActions } from "../../app/actions";
import { QueryBoundary } from "../../ui/parts";
import { ExperimentRows } from "./ExperimentRows";
import { Spark } from "./Spark";
import { DRILL_WORDS, KIND_WORDS, KINDS, WORDS } from "./words";

const TEXT = WORDS.practiceHome;

type Drill = Schemas["DrillView"];

/** What can be practised and tried, what is due, and what was found. */
export function PracticeHome() {
  const drills = useDrills();
  const experiments = useExperiments();
  const navigate = useNavigate();
  const due = [...(drills.data ?? [])].filter((d) => d.due > 0).sort((a, b) => a.answers - b.answers)[0];
  const open = experiments.data?.filter((e) => !e.finished) ?? [];
  const done = experiments.data?.filter((e) => e.finished) ?? [];
  useStationActions(
    drills.data
      ? TEXT.dueInDrillsExperimentsUnder(
          drills.data.reduce((n, d) => n + d.due, 0),
          open.length,
        )
      : "",
    due
      ? [
          {
            key: "Space",
            label: TEXT.practise(DRILL_WORDS[due.drill].name.replace(/\?$/, "").toLowerCase()),
            main: true,
            run: () => navigate(`/practice/drills/${due.drill}`),
          },
        ]
      : [],
  );
  return (
    <QueryBoundary query={drills}>
      <div className="practice-home">
        <section aria-labelledby="drills-head">
          <h1 id="drills-head">{TEXT.drills}</h1>
          <ul className="practice-rows">
            {drills.data?.map((d) => (
              <li key={d.drill}>
                <Link to={`/practice/drills/${d.drill}`} data-testid={`drill-${d.drill}`}>
                  <strong>{DRILL_WORDS[d.drill].name}</strong>
                  <span className="quiet">{DRILL_WORDS[d.drill].question}</span>
                </Link>
                <Spark drill={d} />
                <span className="practice-figure">{figureOf(d)}</span>
                <span className={d.due ? "due" : "quiet"}>{dueWords(d)}</span>
              </li>
            ))}
          </ul>
        </section>
        <section aria-labelledby="begin-head">
          <h1 id="begin-head">{TEXT.experiments}</h1>
          <ul className="practice-rows kinds">
            {KINDS.map((k) => (
              <li key={k}>
                <Link to={`/practice/new/${k}`} data-testid={`new-${k}`}>
                  <strong>{KIND_WORDS[k].name}</strong>
                  <span className="quiet">{KIND_WORDS[k].question}</span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
        {[
          { title: TEXT.underWay, rows: open },
          { title: TEXT.done, rows: done },
        ]
          .filter((part) => part.rows.length)
          .map((part) => (
            <section key={part.title} aria-label={part.title}>
              <h2>{part.title}</h2>
              <ExperimentRows rows={part.rows} />
            </section>
          ))}
      </div>
    </QueryBoundary>
  );
}

function figureOf(d: Drill): string {
  if (d.threshold) return `tells ${d.threshold.percent.toFixed(0)} % apart`;
  if (d.bias) return `${Math.abs(d.bias.bias_percent).toFixed(0)} % ${d.bias.bias_percent < 0 ? "under" : "over"}`;
  if (d.drill === "pour" && d.series.length) return `${d.series.at(-1)!.value.toFixed(0)} of 100`;
  return d.right_share == null ? "" : `${Math.round(100 * d.right_share)} % right`;
}

function dueWords(d: Drill): string {
  if (d.items === 0) return TEXT.needsAGrinder;
  if (d.due === 0) return TEXT.nothingDue;
  return d.answers === 0 ? "new" : `${d.due} due`;
}
