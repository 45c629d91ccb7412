import { useState } from "react";
import { Navigate, useNavigate, useParams } from "react-router-dom";
import { useExperimentWrites, useProposals, useTrianglePower, type Body, type Kind } from "../../../api/practice";
import type { Schemas } from "../../../api/client";
import { useStationActions } from "../../../app/actions";
import { Margin } from "../../../ui/Margin";
import { QueryBoundary, Trouble, Typed, troubleWith } from "../../../ui/parts";
import { CAUTION, KIND_WORDS, KINDS, WORDS } from "../words";
import { FORMS } from "./experimentForms";
import { firstBody, nameFor } from "./firstExperiment";
import { powerWords } from "./resultWords";

const TEXT = WORDS.newExperiment;

type Proposals = Schemas["Proposals"];
type New = Schemas["NewExperiment"];

/** Plan an experiment from what is on the bench. */
export function NewExperiment() {
  const { kind } = useParams<{ kind: string }>();
  const proposals = useProposals();
  if (!KINDS.includes(kind as Kind)) return <Navigate to="/practice" replace />;
  return (
    <QueryBoundary query={proposals}>
      {proposals.data && <Form key={kind} kind={kind as Kind} proposals={proposals.data} />}
    </QueryBoundary>
  );
}

function Form({ kind, proposals }: { kind: Kind; proposals: Proposals }) {
  const { begin } = useExperimentWrites();
  const navigate = useNavigate();
  const [made, setMade] = useState<{ body: Body | null; more: Partial<New>; ready: boolean }>(() => ({
    body: firstBody(kind, proposals),
    more: {},
    ready: true,
  }));
  const [named, setName] = useState<string | null>(null);
  const name = named ?? nameFor(kind, made.body);
  const missing = proposals.not_possible.find((n) => n.kind === kind);
  const start = () =>
    made.body &&
    made.ready &&
    begin.mutate(
      { name: name.trim() || nameFor(kind, made.body), note: "", alone: false, ...made.more, experiment: made.body },
      { onSuccess: (e) => navigate(`/practice/experiments/${e.id}`, { replace: true }) },
    );
  useStationActions(KIND_WORDS[kind].question, [
    { key: "B", label: TEXT.allOfPractice, run: () => navigate("/practice") },
    {
      key: "Space",
      label: TEXT.begin,
      main: true,
      run: () => void start(),
      disabled: !made.body || !made.ready || begin.isPending,
    },
  ]);
  const set = (body: Body, more: Partial<New> = {}, ready = true) =>
    setMade((was) => ({ body, more: { ...was.more, ...more }, ready }));
  return (
    <div className="station-page">
      <div className="thing experiment">
        <header>
          <h1>{KIND_WORDS[kind].name}</h1>
          <p className="quiet">{KIND_WORDS[kind].question}</p>
        </header>
        <ol className="experiment-steps">
          {KIND_WORDS[kind].steps.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ol>
        {missing && !made.body ? (
          <p className="trouble-box" role="status">
            <strong>{missing.message}</strong> {missing.remedy}
          </p>
        ) : (
          <>
            <Typed
              label={TEXT.name}
              value={name}
              onChange={setName}
              width={300}
              small
              trouble={troubleWith(begin.error, "name")}
            />
            {FORMS[kind]({ proposals, set, ...made })}
          </>
        )}
        {begin.error != null && <Trouble error={begin.error} />}
      </div>
      <Margin label={TEXT.beforeYouBegin}>
        <h2>{TEXT.beforeYouBegin}</h2>
        <ul className="rows">
          {proposals.coffee && (
            <li>
              <span>{TEXT.coffee}</span>
              <span>{proposals.coffee}</span>
            </li>
          )}
          {proposals.plan && (
            <li>
              <span>{TEXT.plan}</span>
              <span>{proposals.plan}</span>
            </li>
          )}
        </ul>
        {(made.body?.kind === "triangle" || made.body?.kind === "sieve") && (
          <Power rounds={made.body.rounds ?? 12} expected={made.body.expected_can_tell ?? 0.5} />
        )}
        <p className="quiet">{CAUTION}</p>
      </Margin>
    </div>
  );
}

function Power({ rounds, expected }: { rounds: number; expected: number }) {
  const power = useTrianglePower(rounds, expected);
  return power.data ? (
    <p className="said" data-testid="power">
      {powerWords(power.data)}
    </p>
  ) : null;
}
