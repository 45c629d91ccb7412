import { Select } from "antd";
import { useState, type ReactNode } from "react";
import { ApiError, type Schemas } from "../../api/client";
import { settingText, Typed } from "../../ui/parts";
import { capital, clock } from "../../ui/words";
import { Guessing } from "./Guessing";
import { Margin } from "../../ui/Margin";
import { cssVariables } from "../../ui/cssVariables";
import { WORDS } from "./words";

const TEXT = WORDS.alternatives;

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
  ["grind-first", TEXT.theGrind],
  ["technique-first", "technique"],
  ["grind-last", TEXT.theGrindLast],
  ["grind-only", TEXT.onlyTheGrind],
  ["start-coarse", TEXT.fromCoarse],
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
  children?: ReactNode;
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
  children,
}: Props) {
  const [why, setWhy] = useState(false);
  const [all, setAll] = useState(false);
  // A cup that is liked, or was not tasted, has no fault to have a cause, and nothing to be changed or not.
  const nothingWrong = advice?.status === "keep" || advice?.status === "taste-first";
  return (
    <Margin label={TEXT.otherMoves}>
      {advice && advice.moves.length > 1 && (
        <>
          <h2>{TEXT.alternatives}</h2>
          <ul className="rows below-l">
            {advice.moves.slice(0, all ? undefined : SHOWN).map(
              (m, i) =>
                i !== picked && (
                  <li key={i} className="block">
                    <button className="link large" onClick={() => pick(i)}>
                      {capital(m.words)}
                    </button>
                    {m.kind !== "repeat" && m.kind !== "none" && (
                      <div className="quiet">
                        {TEXT.fromToAndPredicted(
                          settingText(m.from),
                          settingText(m.to),
                          m.before.ey_percent.toFixed(1),
                          m.after.ey_percent.toFixed(1),
                          clock(m.after.drawdown_s),
                        )}
                      </div>
                    )}
                  </li>
                ),
            )}
          </ul>
          {advice.moves.length > SHOWN && (
            <p className="alternative-more">
              <button className="link" aria-expanded={all} onClick={() => setAll(!all)}>
                {all ? TEXT.fewer : TEXT.more(advice.moves.length - SHOWN)}
              </button>
            </p>
          )}
        </>
      )}
      {children}
      {advice && !nothingWrong && (
        <section className="below-l">
          <h2>{TEXT.likelyCauses}</h2>
          <ul className="rows">
            {advice.causes
              .filter((c, i) => i === 0 || c.weight >= 0.03)
              .slice(0, 3)
              .map((c, i) => (
                <li key={c.cause} className="block" title={c.reason}>
                  <div className="side-by-side apart">
                    <span>
                      {capital(c.cause.replaceAll("-", " "))}
                      {i === 0 && advice.status === "change" && (
                        <span className="quiet"> {TEXT.thisChangeCorrectsIt}</span>
                      )}
                    </span>
                    <span className="figure">{Math.round(100 * c.weight)} %</span>
                  </div>
                  <div className="share cause-weight" style={cssVariables({ "--share": `${100 * c.weight}%` })}>
                    <div />
                  </div>
                </li>
              ))}
          </ul>
          {advice.ruled_out.length > 0 && (
            <p className="small above-m">
              <button className="link" aria-expanded={why} onClick={() => setWhy(!why)}>
                {TEXT.notWhy(
                  [
                    ...new Set(
                      advice.ruled_out.flatMap((r) => (NOUNS[r.kind] ? [`${r.direction} ${NOUNS[r.kind]}`] : [])),
                    ),
                  ]
                    .slice(0, 3)
                    .join(", "),
                )}
              </button>
            </p>
          )}
          {why &&
            advice.ruled_out.map((r, i) => (
              <p key={i} className="quiet above-s">
                {r.reason}
              </p>
            ))}
        </section>
      )}
      <section className="stack near">
        <label className="quiet">
          {TEXT.yourTarget}
          <Select
            className="whole-width"
            value={target.name}
            onChange={(name) => setTarget({ ...target, name })}
            options={[
              ...targets
                .filter((t) => t.name !== OWN)
                .map((t) => ({
                  value: t.name,
                  label: `${t.name}: ${t.ey_percent.join("–")} %, ${t.tds_percent.map((v) => v.toFixed(2)).join("–")} %`,
                })),
              { value: OWN, label: TEXT.myOwnBox },
            ]}
          />
        </label>
        {target.name === OWN && (
          <div className="given-fields">
            {[TEXT.extractionFrom, "to, %", TEXT.strengthFrom, "to, % "].map((label, i) => (
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
              <p className="trouble-line all-columns" role="alert">
                {trouble.message}
              </p>
            )}
          </div>
        )}
        <label className="quiet">
          {TEXT.changeFirst}
          <Select
            className="whole-width"
            value={changeFirst}
            onChange={setChangeFirst}
            options={ORDERS.map(([value, label]) => ({ value, label }))}
          />
        </label>
        <label className="quiet">
          {TEXT.style}
          <Select
            className="whole-width"
            value={lean ?? ""}
            onChange={(l) => setLean((l || null) as Lean)}
            options={[{ value: "", label: TEXT.noPreference }, ...LEANS.map((value) => ({ value, label: value }))]}
          />
        </label>
      </section>
      <Guessing />
      <p className="quiet above-l">{TEXT.theModelMovesYourOwnCupBy}</p>
    </Margin>
  );
}
