import { useRef, useState } from "react";
import { useNavigate, useParams } from "react-router-dom";
import type { ApiError } from "../../../api/client";
import { useExperiment, useExperimentWrites, type Body, type Experiment } from "../../../api/practice";
import { useActions, useStationActions } from "../../../app/actions";
import { Margin } from "../../../ui/Margin";
import { QueryBoundary, Setting, Trouble } from "../../../ui/parts";

import { dayAndTime } from "../../../ui/dates";
import { CAUTION, KIND_WORDS, ladderStep, WORDS } from "../words";
import type { Part } from "./experimentPart";
import { HandBrews } from "./HandBrews";
import { LadderRounds } from "./LadderRounds";
import { powerWords, said } from "./resultWords";
import { ThirdsCups } from "./ThirdsCups";
import { ThreeGrinds } from "./ThreeGrinds";
import { TriangleRounds } from "./TriangleRounds";
import { TwoWays } from "./TwoWays";

const TEXT = WORDS.experimentPage;

/** One experiment: what to do, what was noted, and what it says. */
export function ExperimentPage() {
  const { id } = useParams<{ id: string }>();
  const query = useExperiment(Number(id));
  return (
    <QueryBoundary query={query}>{query.data && <Open key={query.data.id} experiment={query.data} />}</QueryBoundary>
  );
}

function Open({ experiment: e }: { experiment: Experiment }) {
  const { change, remove, restore } = useExperimentWrites();
  const navigate = useNavigate();
  const { notify } = useActions();
  const words = said(e.result, e.experiment);
  async function discard() {
    await remove(e.id);
    notify(TEXT.deleted(e.name), () => restore(e.id));
    navigate("/practice");
  }
  useStationActions(words.verdict, [
    { key: "B", label: TEXT.allOfPractice, run: () => navigate("/practice") },
    { key: "D", label: TEXT.deleteWord, run: () => void discard() },
    {
      key: "F",
      label: e.finished ? TEXT.goOnWithIt : TEXT.finish,
      main: words.settled && !e.finished,
      run: () => change.mutate({ id: e.id, finished: !e.finished }),
    },
  ]);
  const noting = useNoting(e);
  return (
    <div className="station-page">
      <div className="thing experiment">
        <header>
          <Name experiment={e} />
          <p className="quiet">
            {KIND_WORDS[e.kind].name}
            {e.coffee && ` · ${e.coffee}`} · {dayAndTime(e.created_at)}
          </p>
        </header>
        <ol className="experiment-steps">
          {KIND_WORDS[e.kind].steps.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ol>
        <Noted part={{ experiment: e, note: noting.note, error: noting.error }} body={noting.body} />
        {noting.error != null && !(noting.error as ApiError).field && <Trouble error={noting.error} />}
      </div>
      <Margin label={TEXT.whatItSays}>
        <h2>{TEXT.soFar}</h2>
        <p className="verdict-words" data-settled={words.settled} data-testid="experiment-verdict">
          {words.verdict}
        </p>
        {words.detail && <p className="said">{words.detail}</p>}
        {e.result.power && !e.result.triangle && !e.result.sieve?.triangle && (
          <p className="said">{powerWords(e.result.power)}</p>
        )}
        <Winner experiment={e} />
        <Note experiment={e} />
        <p className="quiet">{CAUTION}</p>
        <p className="experiment-files">
          <a className="link" href={`/api/experiments/${e.id}/paper/pdf`} download>
            {TEXT.print}
          </a>
          <a className="link" href={`/api/experiments/${e.id}/paper/json`} download>
            {TEXT.export}
          </a>
        </p>
      </Margin>
    </div>
  );
}

/**
 * What was noted, sent one change after the other. Until all is kept the page shows what was typed, so that a figure typed
 * while another is on its way is not lost; what is refused stays in its field.
 */
function useNoting(e: Experiment) {
  const { change } = useExperimentWrites();
  const [draft, setDraft] = useState<Body | null>(null);
  const waiting = useRef(0);
  async function note(body: Body) {
    setDraft(body);
    waiting.current += 1;
    try {
      await change.mutateAsync({ id: e.id, experiment: body });
      if (waiting.current === 1) setDraft(null);
      return true;
    } catch {
      return false; // it is said beside what was typed
    } finally {
      waiting.current -= 1;
    }
  }
  return { note, body: draft ?? e.experiment, error: change.error };
}

function Noted({ part, body }: { part: Part; body: Body }) {
  switch (body.kind) {
    case "triangle":
    case "sieve":
      return <TriangleRounds {...part} body={body} />;
    case "three-grinds":
      return <ThreeGrinds {...part} body={body} />;
    case "thirds":
      return <ThirdsCups {...part} body={body} />;
    case "two-ways":
      return <TwoWays {...part} body={body} />;
    case "hand":
      return <HandBrews {...part} body={body} />;
    case "ladder":
      return <LadderRounds {...part} body={body} />;
  }
}

function Name({ experiment: e }: { experiment: Experiment }) {
  const { change } = useExperimentWrites();
  const [name, setName] = useState<string | null>(null);
  return (
    <input
      className="experiment-name"
      aria-label={TEXT.nameOfTheExperiment}
      value={name ?? e.name}
      maxLength={80}
      onChange={(event) => setName(event.target.value)}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      onBlur={() => {
        if (name?.trim() && name !== e.name) change.mutate({ id: e.id, name });
        setName(null);
      }}
    />
  );
}

function Note({ experiment: e }: { experiment: Experiment }) {
  const { change } = useExperimentWrites();
  const [note, setNote] = useState<string | null>(null);
  return (
    <textarea
      className="experiment-note"
      aria-label={TEXT.note}
      placeholder={TEXT.note}
      rows={2}
      maxLength={600}
      value={note ?? e.note}
      onChange={(event) => setNote(event.target.value)}
      onBlur={() => {
        if (note !== null && note !== e.note) change.mutate({ id: e.id, note });
        setNote(null);
      }}
    />
  );
}

/** Put the winner on the bench; which one it is, the person says. */
function Winner({ experiment: e }: { experiment: Experiment }) {
  const { toBench } = useExperimentWrites();
  const { notify } = useActions();
  const navigate = useNavigate();
  const body = e.experiment;
  const favourite =
    body.kind === "three-grinds"
      ? body.liked
      : body.kind === "ladder"
        ? e.result.ladder && `${e.result.ladder.best}`
        : null;
  const choices = favourite && favourite !== "none" ? [favourite] : body.kind === "two-ways" ? e.can_go_to_bench : [];
  return (
    <div className="winner">
      {choices
        .filter((c) => e.can_go_to_bench.includes(c))
        .map((choice) => (
          <button
            key={choice}
            className="main-act"
            disabled={toBench.isPending}
            onClick={() =>
              toBench.mutate(
                { id: e.id, choice },
                {
                  onSuccess: () => {
                    notify(TEXT.itIsOnTheBench);
                    navigate("/plan");
                  },
                },
              )
            }
          >
            <span>
              {TEXT.put} {nameOf(body, choice)} {TEXT.onTheBench}
            </span>
          </button>
        ))}
      {toBench.error != null && <Trouble error={toBench.error} />}
    </div>
  );
}

function nameOf(body: Body, choice: string) {
  if (body.kind === "three-grinds") return <Setting value={choice} />;
  if (body.kind === "two-ways") return choice === "A" ? body.a : body.b;
  return body.kind === "ladder" ? ladderStep(body.variable, Number(choice)) : choice;
}
