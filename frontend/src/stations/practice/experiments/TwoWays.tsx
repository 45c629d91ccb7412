import { Form } from "antd";
import { useState } from "react";
import type { Body } from "../../../api/practice";
import { linear } from "../../../charts/scales";
import { Typed } from "../../../ui/parts";
import { QUANTITY_WORDS, WORDS } from "../words";
import type { Part } from "./experimentPart";

const TEXT = WORDS.twoWays;

type Ways = Extract<Body, { kind: "two-ways" }>;

/** Pairs of brews, in the order that is drawn, until the interval says enough. */
export function TwoWays({ body, experiment, note }: Part & { body: Ways }) {
  const q = QUANTITY_WORDS[body.quantity ?? "time"]!;
  const pairs = body.pairs ?? [];
  const order = experiment.next_order === "BA" ? "BA" : "AB";
  const [a, setA] = useState("");
  const [b, setB] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const names = { A: body.a, B: body.b };
  const [first, second] = order === "AB" ? (["A", "B"] as const) : (["B", "A"] as const);
  const read = (text: string) => valueOf(text, body.quantity === "time");
  async function add() {
    const [va, vb] = [read(a), read(b)];
    if (va === null || vb === null) {
      setWrong(body.quantity === "time" ? TEXT.typeTimesLike305Or185 : TEXT.typeANumberForBoth);
      return;
    }
    setWrong(null);
    if (!(await note({ ...body, pairs: [...pairs, { order, a: va, b: vb }] }))) return;
    setA("");
    setB("");
  }
  const fields = {
    A: <Typed label={body.a} value={a} onChange={setA} unit={q.unit} width={150} trouble={wrong} />,
    B: <Typed label={body.b} value={b} onChange={setB} unit={q.unit} width={150} />,
  };
  return (
    <>
      <h2>{TEXT.pairBrewFirstThen(pairs.length + 1, names[first], names[second])}</h2>
      <Form onFinish={() => void add()} className="pair-form">
        {fields[first]}
        {fields[second]}
        <button className="act" type="submit">
          {TEXT.addThePair}
        </button>
      </Form>
      {pairs.length > 0 && <Differences body={body} ci={experiment.result.two_ways?.ci95} />}
      {pairs.length > 0 && (
        <button className="link" onClick={() => void note({ ...body, pairs: pairs.slice(0, -1) })}>
          {TEXT.removeTheLastPair}
        </button>
      )}
      <Worth body={body} note={note} />
    </>
  );
}

const valueOf = (text: string, time: boolean): number | null => {
  const [minutes, seconds] = text.trim().replace(",", ".").split(":");
  const value = seconds === undefined ? Number(minutes || NaN) : 60 * Number(minutes) + Number(seconds);
  return Number.isFinite(value) && (time ? value > 0 : true) ? value : null;
};

function Worth({ body, note }: { body: Ways; note: Part["note"] }) {
  const q = QUANTITY_WORDS[body.quantity ?? "time"]!;
  const [text, setText] = useState<string | null>(null);
  return (
    <Typed
      label={TEXT.aDifferenceMattersFrom}
      unit={q.unit}
      width={220}
      small
      value={text ?? String(body.worth)}
      onChange={setText}
      onBlur={() => {
        const value = text === null ? null : valueOf(text, true);
        if (value) void note({ ...body, worth: value });
        setText(null);
      }}
    />
  );
}

const HEIGHT = 30;

/** Each pair's difference, and the mean with its interval, against what would matter. */
function Differences({ body, ci }: { body: Ways; ci?: number[] }) {
  const q = QUANTITY_WORDS[body.quantity ?? "time"]!;
  const d = (body.pairs ?? []).map((p) => p.b - p.a);
  const worth = body.worth ?? 1;
  const reach = 1.15 * Math.max(worth, ...d.map(Math.abs), ...(ci ?? []).map(Math.abs));
  const x = linear([-reach, reach], [10, 550]);
  const mean = d.reduce((s, v) => s + v, 0) / d.length;
  const height = 92;
  return (
    <figure className="differences">
      <svg
        viewBox={`0 0 560 ${height}`}
        role="img"
        aria-label={TEXT.differences(d.map((v) => v.toFixed(1)).join(", "))}
      >
        <rect x={x(-worth)} width={x(worth) - x(-worth)} y="8" height="56" fill="var(--celadon-wash)" />
        <path d={`M${x(0)} 4V68`} stroke="var(--ink-3)" strokeDasharray="3 3" />
        {d.map((v, i) => (
          <circle key={i} cx={x(v)} cy={20} r="5" fill="none" stroke="var(--ink-2)" strokeWidth="1.6" />
        ))}
        {ci && <path d={`M${x(ci[0]!)} ${HEIGHT + 18}H${x(ci[1]!)}`} stroke="var(--ink)" strokeWidth="3" />}
        {ci && <circle cx={x(mean)} cy={HEIGHT + 18} r="6" fill="var(--persimmon)" />}
        <text x="10" y={height - 6} className="tick">
          {body.b} {q.less}
        </text>
        <text x="550" y={height - 6} className="tick" textAnchor="end">
          {body.b} {q.more}
        </text>
        <text x={x(0)} y={height - 6} className="tick" textAnchor="middle">
          {TEXT.doesNotMatter}
        </text>
      </svg>
    </figure>
  );
}
