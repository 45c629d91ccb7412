import { Select } from "antd";
import { useState, type ReactNode } from "react";
import { Navigate, useNavigate, useParams } from "react-router-dom";
import { useSlips } from "../../../api/hooks";
import { useExperimentWrites, useProposals, useTrianglePower, type Body, type Kind } from "../../../api/practice";
import type { Schemas } from "../../../api/client";
import { useStationActions } from "../../../app/actions";
import { Margin } from "../../../ui/Margin";
import { QueryBoundary, Setting, Trouble, Typed, troubleWith } from "../../../ui/parts";
import { clock, whole } from "../../../ui/words";
import { CAUTION, KIND_WORDS, KINDS, LADDER_WORDS, QUANTITY_WORDS } from "../words";
import { powerWords } from "./resultWords";

type Proposals = Schemas["Proposals"];
type New = Schemas["NewExperiment"];

/** What a kind's form gives: the experiment to begin, or nothing while something is missing. */
interface FormProps {
  proposals: Proposals;
  set: (body: Body | null, more?: Partial<New>) => void;
}

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
  const [made, setMade] = useState<{ body: Body | null; more: Partial<New> }>(() => ({
    body: firstBody(kind, proposals),
    more: {},
  }));
  const [named, setName] = useState<string | null>(null);
  const name = named ?? nameFor(kind, made.body);
  const missing = proposals.not_possible.find((n) => n.kind === kind);
  const start = () =>
    made.body &&
    begin.mutate(
      { name: name.trim() || nameFor(kind, made.body), note: "", alone: false, ...made.more, experiment: made.body },
      { onSuccess: (e) => navigate(`/practice/experiments/${e.id}`, { replace: true }) },
    );
  useStationActions(KIND_WORDS[kind].question, [
    { key: "B", label: "All of Practice", run: () => navigate("/practice") },
    { key: "Space", label: "Begin", main: true, run: () => void start(), disabled: !made.body || begin.isPending },
  ]);
  const set = (body: Body | null, more: Partial<New> = {}) =>
    setMade((was) => ({ body, more: { ...was.more, ...more } }));
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
              label="Name"
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
      <Margin label="Before you begin">
        <h2>Before you begin</h2>
        <ul className="rows">
          {proposals.coffee && (
            <li>
              <span>Coffee</span>
              <span>{proposals.coffee}</span>
            </li>
          )}
          {proposals.plan && (
            <li>
              <span>Plan</span>
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

/** What an experiment is called unless it is named: what is compared, else its kind. */
function nameFor(kind: Kind, body: Body | null): string {
  if (body?.kind === "triangle" || body?.kind === "two-ways") return `${body.a} against ${body.b}`.slice(0, 80);
  return KIND_WORDS[kind].name;
}

function firstBody(kind: Kind, p: Proposals): Body | null {
  switch (kind) {
    case "triangle":
      return { kind, a: "ribbed cone", b: "flat bottom", rounds: 12, expected_can_tell: 0.5, answers: [] };
    case "sieve":
      return p.sieve;
    case "three-grinds":
      return p.three_grinds ?? null;
    case "thirds":
      return p.thirds ?? null;
    case "two-ways":
      return { kind, a: p.brewer ?? "one way", b: "the other way", quantity: "time", worth: 10, pairs: [] };
    case "hand":
      return p.hand;
    case "ladder":
      return p.ladders[0] ?? null;
  }
}

function Power({ rounds, expected }: { rounds: number; expected: number }) {
  const power = useTrianglePower(rounds, expected);
  return power.data ? (
    <p className="said" data-testid="power">
      {powerWords(power.data)}
    </p>
  ) : null;
}

const FORMS: Record<Kind, (p: FormProps & { body: Body | null; more: Partial<New> }) => ReactNode> = {
  triangle: ({ body, set, more }) =>
    body?.kind === "triangle" && (
      <>
        <div className="form-row">
          <Typed label="One brew" value={body.a} onChange={(a) => set({ ...body, a })} width={190} small />
          <Typed label="The other" value={body.b} onChange={(b) => set({ ...body, b })} width={190} small />
        </div>
        <RoundsForm body={body} set={set} alone={more.alone} />
      </>
    ),
  sieve: ({ body, set, more }) =>
    body?.kind === "sieve" && (
      <>
        <Count label="Mesh" unit="µm" value={body.mesh_um ?? 400} set={(mesh_um) => set({ ...body, mesh_um })} />
        <RoundsForm body={body} set={set} alone={more.alone} />
      </>
    ),
  "three-grinds": ({ body }) =>
    body?.kind === "three-grinds" && (
      <table className="noted" aria-label="Settings to try">
        <thead>
          <tr>
            <th>{body.grinder}</th>
            <th>Median</th>
            <th>Predicted time</th>
            <th>Predicted strength</th>
          </tr>
        </thead>
        <tbody>
          {body.grinds.map((g) => (
            <tr key={g.setting}>
              <th scope="row">
                <Setting value={g.setting} />
              </th>
              <td className="figure">{whole(g.d50_um)} µm</td>
              <td className="figure">{g.predicted_s == null ? "–" : clock(g.predicted_s)}</td>
              <td className="figure">
                {g.predicted_tds_percent == null ? "–" : `${g.predicted_tds_percent.toFixed(2)} %`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    ),
  thirds: ({ body }) =>
    body?.kind === "thirds" && (
      <table className="noted" aria-label="Predicted thirds">
        <thead>
          <tr>
            <th>Cup</th>
            <th>Change it at</th>
            <th>Predicted strength</th>
          </tr>
        </thead>
        <tbody>
          {body.predicted?.map((c, i) => (
            <tr key={i}>
              <th scope="row">{["First", "Middle", "Last"][i]} third</th>
              <td className="figure">{whole(c.drink_g * (i + 1))} g in all</td>
              <td className="figure">{c.tds_percent.toFixed(2)} %</td>
            </tr>
          ))}
        </tbody>
      </table>
    ),
  "two-ways": ({ body, set, more }) => body?.kind === "two-ways" && <WaysForm body={body} set={set} more={more} />,
  hand: ({ body, set }) =>
    body?.kind === "hand" && (
      <>
        <p className="quiet">{body.plan}</p>
        <Count label="Brews" value={body.wanted ?? 5} set={(wanted) => set({ ...body, wanted })} />
      </>
    ),
  ladder: ({ body, set, proposals, more }) =>
    body?.kind === "ladder" && (
      <>
        <div className="chips" role="radiogroup" aria-label="What changes">
          {proposals.ladders.map((l) => (
            <button
              key={l.variable}
              role="radio"
              aria-checked={l.variable === body.variable}
              className="chip"
              onClick={() => set(l)}
            >
              {LADDER_WORDS[l.variable]!.name}
            </button>
          ))}
        </div>
        <Steps key={body.variable} body={body} set={set} />
        <Count label="Rounds" value={body.rounds ?? 2} set={(rounds) => set({ ...body, rounds })} />
        <WhoPours alone={more.alone} set={(alone) => set(body, { alone })} />
      </>
    ),
};

function Steps({ body, set }: { body: Extract<Body, { kind: "ladder" }>; set: (b: Body | null) => void }) {
  const [text, setText] = useState(body.values.join("; "));
  const [wrong, setWrong] = useState<string | null>(null);
  return (
    <Typed
      label="Steps"
      unit={LADDER_WORDS[body.variable]!.unit}
      width={300}
      small
      value={text}
      trouble={wrong}
      onChange={(typed) => {
        setText(typed);
        const values = typed
          .split(/[;/ ]+/)
          .filter(Boolean)
          .map((v) => Number(v.replace(",", ".")));
        const good = values.length >= 3 && values.length <= 7 && values.every(Number.isFinite);
        const all = good && new Set(values).size === values.length;
        setWrong(all ? null : "Type three to seven different numbers with a semicolon between them.");
        set(all ? { ...body, values } : null);
      }}
    />
  );
}

/** A whole number typed; what is no number is not taken. */
function Count({ label, unit, value, set }: { label: string; unit?: string; value: number; set: (n: number) => void }) {
  const [text, setText] = useState(String(value));
  const n = Number(text.replace(",", "."));
  const good = Number.isInteger(n) && n > 0;
  return (
    <Typed
      label={label}
      unit={unit}
      width={130}
      small
      value={text}
      trouble={good ? null : "Type a whole number."}
      onChange={(typed) => {
        setText(typed);
        const count = Number(typed.replace(",", "."));
        if (Number.isInteger(count) && count > 0) set(count);
      }}
    />
  );
}

type Blind = Extract<Body, { kind: "triangle" } | { kind: "sieve" }>;
const EXPECTED = [0.3, 0.5, 0.7];

function RoundsForm({ body, set, alone }: { body: Blind; set: FormProps["set"]; alone?: boolean }) {
  return (
    <>
      <Count label="Rounds" value={body.rounds ?? 12} set={(rounds) => set({ ...body, rounds })} />
      <h2>How easy will it be to tell?</h2>
      <div className="chips" role="radiogroup" aria-label="How easy will it be to tell?">
        {EXPECTED.map((share) => (
          <button
            key={share}
            role="radio"
            aria-checked={body.expected_can_tell === share}
            className="chip"
            onClick={() => set({ ...body, expected_can_tell: share })}
          >
            {{ 0.3: "hard, 30 %", 0.5: "fair, 50 %", 0.7: "easy, 70 %" }[share]}
          </button>
        ))}
      </div>
      <WhoPours alone={alone} set={(on) => set(body, { alone: on })} />
    </>
  );
}

function WhoPours({ alone = false, set }: { alone?: boolean; set: (alone: boolean) => void }) {
  return (
    <>
      <h2>Who pours?</h2>
      <div className="chips" role="radiogroup" aria-label="Who pours?">
        {[
          { on: false, words: "Somebody who does not taste" },
          { on: true, words: "I am alone" },
        ].map(({ on, words }) => (
          <button key={words} role="radio" aria-checked={alone === on} className="chip" onClick={() => set(on)}>
            {words}
          </button>
        ))}
      </div>
      <p className="quiet">
        {alone
          ? "Notes under the cups, shuffled with closed eyes: the program cannot check that order."
          : "The program draws the order and shows it to the one who pours alone; it opens when the round is answered."}
      </p>
    </>
  );
}

function WaysForm({
  body,
  set,
  more,
}: {
  body: Extract<Body, { kind: "two-ways" }>;
  set: FormProps["set"];
  more: Partial<New>;
}) {
  const slips = useSlips();
  const options = [
    { value: 0, label: "the plan on the bench" },
    ...(slips.data ?? []).map((s) => ({ value: s.id, label: `slip ${s.number}: ${s.brewer}, ${s.setting ?? ""}` })),
  ].reverse();
  const quantity = body.quantity ?? "time";
  return (
    <>
      {(
        [
          ["a", "slip_id", "One way"],
          ["b", "other_slip_id", "The other way"],
        ] as const
      ).map(([key, field, label]) => (
        <div className="form-row" key={key}>
          <Typed label={label} value={body[key]} onChange={(text) => set({ ...body, [key]: text })} width={250} small />
          <Select
            aria-label={`Plan of ${label.toLowerCase()}`}
            value={more[field] ?? (key === "a" ? 0 : undefined)}
            placeholder="its plan, if it is one of these"
            options={options}
            onChange={(id: number) => set(body, { [field]: id || undefined })}
            style={{ width: 260 }}
          />
        </div>
      ))}
      <h2>What is compared?</h2>
      <div className="chips" role="radiogroup" aria-label="What is compared?">
        {Object.entries(QUANTITY_WORDS).map(([key, q]) => (
          <button
            key={key}
            role="radio"
            aria-checked={key === quantity}
            className="chip"
            onClick={() => set({ ...body, quantity: key as typeof quantity, worth: WORTH[key]! })}
          >
            {q.name}
          </button>
        ))}
      </div>
      <p className="quiet">
        A difference matters from {body.worth} {QUANTITY_WORDS[quantity]!.unit} on; it can be changed later.
      </p>
    </>
  );
}

const WORTH: Record<string, number> = { time: 10, strength: 0.05, drink: 8, liking: 0.5 };
