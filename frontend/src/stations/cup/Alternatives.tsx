import { Select } from "antd";
import { useState } from "react";
import { ApiError, type Schemas } from "../../api/client";
import { settingText, Typed } from "../../ui/parts";
import { capital, clock } from "../../ui/words";
import { Guessing } from "./Guessing";
import { Margin } from "../../ui/Margin";

export const OWN = "own";
/** The chosen target, and a box of one's own as typed: extraction from and to, strength from and to. */
export interface Aim {
  name: string;
  own: string[];
}
export type Lean = NonNullable<Schemas["CupEntry"]["lean"]> | null;
const LEANS = ["brighter", "rounder", "cleaner", "fuller"] as const;
type LeverOrder = NonNullable<Schemas["CupEntry"]["change_first"]>;
const ORDERS: [LeverOrder, string][] = [
  ["grind-first", "the grind"],
  ["technique-first", "technique"],
  ["grind-last", "the grind last"],
  ["grind-only", "only the grind"],
  ["start-coarse", "from coarse"],
];

const SHOWN = 5;
const NOUNS: Record<string, string> = {
  grind: "grind",
  temperature: "water",
  ratio: "ratio",
  dose: "coffee",
  agitation: "stirring",
  pours: "pours",
  time: "steep",
};

interface Props {
  advice?: Schemas["AdviceDocument"];
  picked: number;
  pick: (index: number) => void;
  target: Aim;
  setTarget: (aim: Aim) => void;
  trouble: unknown;
  targets: Schemas["TargetBox"][];
  changeFirst: LeverOrder;
  setChangeFirst: (s: LeverOrder) => void;
  lean: Lean;
  setLean: (l: Lean) => void;
}

/** The other moves, what was ruled out and why, the causes weighed, and what the user steers by. */
export function Alternatives({
  advice,
  picked,
  pick,
  target,
  setTarget,
  targets,
  trouble,
  changeFirst,
  setChangeFirst,
  lean,
  setLean,
}: Props) {
  const [why, setWhy] = useState(false);
  const [all, setAll] = useState(false);
  // A cup that is liked, or was not tasted, has no fault to have a cause, and nothing to be changed or not.
  const nothingWrong = advice?.status === "keep" || advice?.status === "taste-first";
  return (
    <Margin label="Other moves">
      {advice && advice.moves.length > 1 && (
        <>
          <h2>Alternatives</h2>
          <ul className="rows" style={{ marginBottom: 16 }}>
            {advice.moves.slice(0, all ? undefined : SHOWN).map(
              (m, i) =>
                i !== picked && (
                  <li key={i} style={{ display: "block" }}>
                    <button className="link" style={{ fontSize: 15 }} onClick={() => pick(i)}>
                      {capital(m.words)}
                    </button>
                    {m.kind !== "repeat" && m.kind !== "none" && (
                      <div className="quiet">
                        {settingText(m.from)} to {settingText(m.to)}; {m.before.ey_percent.toFixed(1)} to{" "}
                        {m.after.ey_percent.toFixed(1)} %, {clock(m.after.drawdown_s)}
                      </div>
                    )}
                  </li>
                ),
            )}
          </ul>
          {advice.moves.length > SHOWN && (
            <p style={{ margin: "-8px 0 16px" }}>
              <button className="link" aria-expanded={all} onClick={() => setAll(!all)}>
                {all ? "Fewer" : `${advice.moves.length - SHOWN} more`}
              </button>
            </p>
          )}
        </>
      )}
      {advice && !nothingWrong && (
        <section style={{ marginBottom: 18 }}>
          <h2>Likely causes</h2>
          <ul className="rows">
            {advice.causes
              .filter((c, i) => i === 0 || c.weight >= 0.03)
              .slice(0, 3)
              .map((c, i) => (
                <li key={c.cause} style={{ display: "block" }} title={c.reason}>
                  <div style={{ display: "flex", justifyContent: "space-between" }}>
                    <span>
                      {capital(c.cause.replaceAll("-", " "))}
                      {i === 0 && advice.status === "change" && <span className="quiet"> this change corrects it</span>}
                    </span>
                    <span className="figure">{Math.round(100 * c.weight)} %</span>
                  </div>
                  <div style={{ height: 3, background: "var(--hairline)", marginTop: 4 }}>
                    <div style={{ height: 3, width: `${100 * c.weight}%`, background: "var(--ink)" }} />
                  </div>
                </li>
              ))}
          </ul>
          {advice.ruled_out.length > 0 && (
            <p style={{ marginTop: 10, fontSize: 13 }}>
              <button className="link" aria-expanded={why} onClick={() => setWhy(!why)}>
                Not:{" "}
                {[
                  ...new Set(
                    advice.ruled_out.flatMap((r) => (NOUNS[r.kind] ? [`${r.direction} ${NOUNS[r.kind]}`] : [])),
                  ),
                ]
                  .slice(0, 3)
                  .join(", ")}
                . Why?
              </button>
            </p>
          )}
          {why &&
            advice.ruled_out.map((r) => (
              <p key={r.direction + r.kind} className="quiet" style={{ marginTop: 6 }}>
                {r.reason}
              </p>
            ))}
        </section>
      )}
      <section style={{ display: "grid", gap: 10 }}>
        <label className="quiet">
          Your target
          <Select
            style={{ width: "100%" }}
            value={target.name}
            onChange={(name) => setTarget({ ...target, name })}
            options={[
              ...targets
                .filter((t) => t.name !== OWN)
                .map((t) => ({
                  value: t.name,
                  label: `${t.name}: ${t.ey_percent.join("–")} %, ${t.tds_percent.map((v) => v.toFixed(2)).join("–")} %`,
                })),
              { value: OWN, label: "my own box" },
            ]}
          />
        </label>
        {target.name === OWN && (
          <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: "4px 14px" }}>
            {["Extraction from", "to, %", "Strength from", "to, % "].map((label, i) => (
              <Typed
                key={label}
                small
                label={label}
                value={target.own[i]!}
                onChange={(text) =>
                  setTarget({ ...target, own: target.own.map((v, k) => (k === i ? text.replace(",", ".") : v)) })
                }
              />
            ))}
            {trouble instanceof ApiError && trouble.field?.startsWith("target") && (
              <p className="trouble-line" role="alert" style={{ gridColumn: "1 / -1" }}>
                {trouble.message}
              </p>
            )}
          </div>
        )}
        <label className="quiet">
          Change first
          <Select
            style={{ width: "100%" }}
            value={changeFirst}
            onChange={setChangeFirst}
            options={ORDERS.map(([value, label]) => ({ value, label }))}
          />
        </label>
        <label className="quiet">
          Style
          <Select
            style={{ width: "100%" }}
            value={lean ?? ""}
            onChange={(l) => setLean((l || null) as Lean)}
            options={[{ value: "", label: "no preference" }, ...LEANS.map((value) => ({ value, label: value }))]}
          />
        </label>
      </section>
      <Guessing />
      <p className="quiet" style={{ marginTop: 16 }}>
        The model moves your own cup by the change it predicts; only its times are fitted to your brews. Brewing
        guidance only.
      </p>
    </Margin>
  );
}
