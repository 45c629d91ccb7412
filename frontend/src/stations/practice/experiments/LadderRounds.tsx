import { useState } from "react";
import { useExperimentWrites, type Body } from "../../../api/practice";
import { linear, line } from "../../../charts/scales";
import { Trouble } from "../../../ui/parts";
import { LADDER_WORDS, ladderStep, WORDS } from "../words";
import type { Part } from "./experimentPart";
import { PouringSheet } from "./PouringSheet";
import { Choice } from "../../../ui/Choice";

const TEXT = WORDS.ladderRounds;

type Ladder = Extract<Body, { kind: "ladder" }>;
const SCALE = [1, 2, 3, 4, 5];

/** Steps of one variable, tasted by codes; alone by the step under the cup. */
export function LadderRounds({ body, experiment: e, note }: Part & { body: Ladder }) {
  const { answer } = useExperimentWrites();
  const cups = body.cups ?? [];
  const step = (value: number) => ladderStep(body.variable, value);
  const done = Math.floor(cups.length / body.values.length);
  const rounds = body.rounds ?? 2;
  const [liked, setLiked] = useState<Record<number, number>>({});
  const labels = e.alone ? body.values.map(step) : (e.round?.codes ?? []);
  const open = e.alone ? done < rounds : e.round !== null;
  function keep() {
    const all = labels.map((_, i) => liked[i]!);
    const cleared = () => setLiked({});
    if (e.alone)
      void note({ ...body, cups: [...cups, ...body.values.map((value, i) => ({ value, liked: all[i]! }))] }).then(
        cleared,
      );
    else answer.mutate({ id: e.id, number: e.round!.number, liked: all, named: [] }, { onSuccess: cleared });
  }
  return (
    <>
      <p className="quiet">
        {TEXT.ofRoundsTasted(LADDER_WORDS[body.variable]!.name, body.values.map(step).join(", "), done, rounds)}
      </p>
      {open ? (
        <section className="round" aria-label={TEXT.round(done + 1)}>
          <h2>{TEXT.roundHowDoYouLikeEach(done + 1)}</h2>
          {e.alone ? <p>{TEXT.noteTheStepUnderEachCupShuffle}</p> : <PouringSheet experiment={e} />}
          {labels.map((label, i) => (
            <Choice
              key={label}
              label={TEXT.cup(label)}
              className="taste-row"
              before={<b className="figure">{label}</b>}
              options={SCALE.map((s) => ({ value: s, label: s }))}
              value={liked[i]}
              choose={(s) => setLiked({ ...liked, [i]: s })}
            />
          ))}
          <div className="round-acts">
            <span className="quiet">{TEXT.n1NotAtAll5VeryMuch}</span>
            <button
              className="main-act"
              disabled={labels.some((_, i) => liked[i] === undefined) || answer.isPending}
              onClick={keep}
            >
              {TEXT.openTheRound}
            </button>
          </div>
          {answer.error != null && <Trouble error={answer.error} />}
        </section>
      ) : (
        <p>
          {TEXT.allRoundsAreTasted}{" "}
          <button className="link" onClick={() => void note({ ...body, rounds: Math.min(10, rounds + 1) })}>
            {TEXT.addARound}
          </button>
        </p>
      )}
      {cups.length > 0 && <Liking body={body} result={e.result.ladder ?? null} />}
    </>
  );
}

/** Liking by step, each cup a ring, the mean a line, the best step with its interval below. */
function Liking({ body, result }: { body: Ladder; result: Part["experiment"]["result"]["ladder"] }) {
  const values = [...body.values].sort((a, b) => a - b);
  const x = linear([values[0]!, values.at(-1)!], [40, 530]);
  const y = linear([1, 5], [150, 20]);
  return (
    <figure className="differences">
      <svg viewBox="0 0 560 200" role="img" aria-label={TEXT.likingByStep}>
        {SCALE.map((s) => (
          <g key={s}>
            <path d={`M40 ${y(s)}H530`} stroke="var(--hairline)" />
            <text className="tick" x="28" y={y(s) + 4} textAnchor="end">
              {s}
            </text>
          </g>
        ))}
        {result?.decided && (
          <rect
            x={x(result.ci95[0]!)}
            width={Math.max(2, x(result.ci95[1]!) - x(result.ci95[0]!))}
            y="14"
            height="142"
            fill="var(--celadon-wash)"
          />
        )}
        {(body.cups ?? []).map((c, i) => (
          <circle key={i} cx={x(c.value)} cy={y(c.liked)} r="5" fill="none" stroke="var(--ink-2)" strokeWidth="1.5" />
        ))}
        {result && (
          <path
            d={line(result.values.map((v, i) => [x(v), y(result.mean_liked[i]!)]))}
            fill="none"
            stroke="var(--persimmon)"
            strokeWidth="2"
          />
        )}
        {values.map((v) => (
          <text key={v} className="tick" x={x(v)} y="176" textAnchor="middle">
            {ladderStep(body.variable, v)}
          </text>
        ))}
      </svg>
    </figure>
  );
}
