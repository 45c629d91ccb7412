import { Select } from "antd";
import { useState, type ReactNode } from "react";
import type { Schemas } from "../../../api/client";
import { useSlips } from "../../../api/slips";
import type { Body, Kind } from "../../../api/practice";
import { Setting, Typed } from "../../../ui/parts";
import { clock, whole } from "../../../ui/words";
import { LADDER_WORDS, QUANTITY_WORDS, WORDS } from "../words";
import { Choice } from "../../../ui/Choice";

const TEXT = WORDS.experimentForms;

type New = Schemas["NewExperiment"];

/** What a kind's form is given. */
interface FormProps {
  proposals: Schemas["Proposals"];
  /** The experiment as it stands; not `ready` while something typed is wrong. */
  set: (body: Body, more?: Partial<New>, ready?: boolean) => void;
}

/** The fields of each kind before it begins. */
export const FORMS: Record<Kind, (p: FormProps & { body: Body | null; more: Partial<New> }) => ReactNode> = {
  triangle: ({ body, set, more }) =>
    body?.kind === "triangle" && (
      <>
        <div className="form-row">
          <Typed label={TEXT.oneBrew} value={body.a} onChange={(a) => set({ ...body, a })} width={190} small />
          <Typed label={TEXT.theOther} value={body.b} onChange={(b) => set({ ...body, b })} width={190} small />
        </div>
        <RoundsForm body={body} set={set} alone={more.alone} />
      </>
    ),
  sieve: ({ body, set, more }) =>
    body?.kind === "sieve" && (
      <>
        <Count
          label={TEXT.mesh}
          unit="µm"
          value={body.mesh_um ?? 400}
          set={(mesh_um, ready) => set({ ...body, mesh_um }, {}, ready)}
        />
        <RoundsForm body={body} set={set} alone={more.alone} />
      </>
    ),
  "three-grinds": ({ body }) =>
    body?.kind === "three-grinds" && (
      <table className="noted" aria-label={TEXT.settingsToTry}>
        <thead>
          <tr>
            <th>{body.grinder}</th>
            <th>{TEXT.median}</th>
            <th>{TEXT.predictedTime}</th>
            <th>{TEXT.predictedStrength}</th>
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
      <table className="noted" aria-label={TEXT.predictedThirds}>
        <thead>
          <tr>
            <th>{TEXT.cup}</th>
            <th>{TEXT.changeItAt}</th>
            <th>{TEXT.predictedStrength}</th>
          </tr>
        </thead>
        <tbody>
          {body.predicted?.map((c, i) => (
            <tr key={i}>
              <th scope="row">
                {["First", "Middle", "Last"][i]} {TEXT.third}
              </th>
              <td className="figure">{TEXT.gInAll(whole(c.drink_g * (i + 1)))}</td>
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
        <Count
          label={TEXT.brews}
          value={body.wanted ?? 5}
          set={(wanted, ready) => set({ ...body, wanted }, {}, ready)}
        />
      </>
    ),
  ladder: ({ body, set, proposals, more }) =>
    body?.kind === "ladder" && (
      <>
        <Choice
          label={TEXT.whatChanges}
          options={proposals.ladders.map((l) => ({ value: l.variable, label: LADDER_WORDS[l.variable]!.name }))}
          value={body.variable}
          choose={(variable) => set(proposals.ladders.find((l) => l.variable === variable)!)}
        />
        <Steps key={body.variable} body={body} set={set} />
        <Count
          label={TEXT.rounds}
          value={body.rounds ?? 2}
          set={(rounds, ready) => set({ ...body, rounds }, {}, ready)}
        />
        <WhoPours alone={more.alone} set={(alone) => set(body, { alone })} />
      </>
    ),
};

function Steps({ body, set }: { body: Extract<Body, { kind: "ladder" }>; set: FormProps["set"] }) {
  const [text, setText] = useState(body.values.join("; "));
  const [wrong, setWrong] = useState<string | null>(null);
  return (
    <Typed
      label={TEXT.steps}
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
        setWrong(all ? null : TEXT.typeThreeToSevenDifferent);
        set(all ? { ...body, values } : body, {}, Boolean(all));
      }}
    />
  );
}

/** A whole number typed; what is no number is not taken. */
function Count({
  label,
  unit,
  value,
  set,
}: {
  label: string;
  unit?: string;
  value: number;
  set: (n: number, ready: boolean) => void;
}) {
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
      trouble={good ? null : TEXT.typeAWholeNumber}
      onChange={(typed) => {
        setText(typed);
        const count = Number(typed.replace(",", "."));
        const whole = Number.isInteger(count) && count > 0;
        set(whole ? count : value, whole);
      }}
    />
  );
}

type Blind = Extract<Body, { kind: "triangle" } | { kind: "sieve" }>;
const EXPECTED = [
  { value: 0.3, label: TEXT.hard30 },
  { value: 0.5, label: TEXT.fair50 },
  { value: 0.7, label: TEXT.easy70 },
];

function RoundsForm({ body, set, alone }: { body: Blind; set: FormProps["set"]; alone?: boolean }) {
  return (
    <>
      <Count
        label={TEXT.rounds}
        value={body.rounds ?? 12}
        set={(rounds, ready) => set({ ...body, rounds }, {}, ready)}
      />
      <h2>{TEXT.howEasyWillItBeToTell}</h2>
      <Choice
        label={TEXT.howEasyWillItBeToTell}
        options={EXPECTED}
        value={body.expected_can_tell}
        choose={(share) => set({ ...body, expected_can_tell: share })}
      />
      <WhoPours alone={alone} set={(on) => set(body, { alone: on })} />
    </>
  );
}

function WhoPours({ alone = false, set }: { alone?: boolean; set: (alone: boolean) => void }) {
  return (
    <>
      <h2>{TEXT.whoPours}</h2>
      <Choice
        label={TEXT.whoPours}
        options={[
          { value: false, label: TEXT.somebodyWhoDoesNotTaste },
          { value: true, label: TEXT.iAmAlone },
        ]}
        value={alone}
        choose={set}
      />
      <p className="quiet">{alone ? TEXT.notesUnderTheCupsShuffled : TEXT.theProgramDrawsTheOrderAnd}</p>
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
  const { slips } = useSlips();
  const options = [
    { value: 0, label: TEXT.thePlanOnTheBench },
    ...(slips ?? []).map((s) => ({ value: s.id, label: TEXT.slip(s.number, s.brewer, s.setting ?? "") })),
  ].reverse();
  const quantity = body.quantity ?? "time";
  return (
    <>
      {(
        [
          ["a", "slip_id", TEXT.oneWay],
          ["b", "other_slip_id", TEXT.theOtherWay],
        ] as const
      ).map(([key, field, label]) => (
        <div className="form-row" key={key}>
          <Typed label={label} value={body[key]} onChange={(text) => set({ ...body, [key]: text })} width={250} small />
          <Select
            aria-label={TEXT.planOf(label.toLowerCase())}
            value={more[field] ?? (key === "a" ? 0 : undefined)}
            placeholder={TEXT.itsPlanIfItIsOneOfThese}
            options={options}
            onChange={(id: number) => set(body, { [field]: id || undefined })}
            className="field-l"
          />
        </div>
      ))}
      <h2>{TEXT.whatIsCompared}</h2>
      <Choice
        label={TEXT.whatIsCompared}
        options={Object.entries(QUANTITY_WORDS).map(([value, q]) => ({ value, label: q.name }))}
        value={quantity}
        choose={(key) => set({ ...body, quantity: key as typeof quantity, worth: WORTH[key]! })}
      />
      <p className="quiet">
        {TEXT.aDifferenceMattersFrom} {body.worth} {QUANTITY_WORDS[quantity]!.unit} {TEXT.onItCanBeChangedLater}
      </p>
    </>
  );
}

const WORTH: Record<string, number> = { time: 10, strength: 0.05, drink: 8, liking: 0.5 };
