import { useState } from "react";
import { typed, type Schemas } from "../../../api/client";
import type { Body } from "../../../api/practice";
import { linear } from "../../../charts/scales";
import type { Part } from "./experimentPart";
import { NotedTable } from "./NotedTable";
import { Choice } from "../../../ui/Choice";
import { WORDS } from "../words";

const TEXT = WORDS.thirdsCups;

type Thirds = Extract<Body, { kind: "thirds" }>;
const NAMES = [TEXT.firstThird, TEXT.middleThird, TEXT.lastThird, TEXT.fourthCup, TEXT.fifthCup, TEXT.sixthCup];
const FEWEST = 3;

type Cup = { drink_g?: number; tds_percent?: number };
const isWhole = (c: Cup) => c.drink_g != null && c.tds_percent != null;

/** The cups of a split brew, and what mixing them back in order makes. */
export function ThirdsCups({ body, experiment, note, error }: Part & { body: Thirds }) {
  const noted = body.cups ?? [];
  // A cup of which one figure is known waits here for the other.
  const [waiting, setWaiting] = useState<Record<number, Cup>>({});
  const rows: Cup[] = Array.from({ length: Math.max(FEWEST, noted.length) }, (_, i) => waiting[i] ?? noted[i] ?? {});
  function set(i: number, key: keyof Cup, text: string) {
    const all = rows.map((c, k) => (k === i ? { ...c, [key]: text ? typed(text) : undefined } : c));
    // Cups are kept in order, up to the first of which something is missing.
    const missing = all.findIndex((c) => !isWhole(c));
    const known = all.slice(0, missing < 0 ? all.length : missing);
    setWaiting(Object.fromEntries(all.flatMap((c, k) => (k < known.length ? [] : [[k, c]]))));
    if (i < known.length) void note({ ...body, cups: known as Schemas["CupOfThird"][] });
  }
  const result = experiment.result.thirds;
  const tasted = noted.length > 0 && noted.every((c) => c.measured === false);
  return (
    <>
      <NotedTable
        error={error}
        label={TEXT.cups}
        columns={[
          { key: "drink_g", head: "Mass", unit: "g" },
          { key: "tds_percent", head: "Strength", unit: "%" },
        ]}
        rows={rows}
        rowName={(i) => NAMES[i]}
        set={set}
      />
      {noted.length > 0 && (
        <Choice
          label={TEXT.howTheStrengthIsKnown}
          options={[
            { value: true, label: TEXT.measured },
            { value: false, label: TEXT.judgedByTongue },
          ]}
          value={!tasted}
          choose={(measured) => void note({ ...body, cups: noted.map((c) => ({ ...c, measured })) })}
        />
      )}
      {tasted && <p className="quiet">{TEXT.judgedByTongueTheSharesAre}</p>}
      {result && <Mixed found={result.found} predicted={result.predicted} />}
    </>
  );
}

type Parts = Schemas["PartDocument"][];

/** Stopped after each cup: how strong the drink is and how much is extracted, found beside predicted. */
function Mixed({ found, predicted }: { found: Parts; predicted: Parts }) {
  const most = Math.max(...[...found, ...predicted].map((p) => p.share_percent));
  const wide = linear([0, most], [0, 210]);
  return (
    <table className="noted mixed" aria-label={TEXT.mixedBackInOrder}>
      <thead>
        <tr>
          <th>{TEXT.cup}</th>
          <th>{TEXT.shareOfWhatWasDissolved}</th>
          <th>{TEXT.stoppedHere}</th>
          <th>{TEXT.extracted}</th>
        </tr>
      </thead>
      <tbody>
        {found.map((p, i) => (
          <tr key={i}>
            <th scope="row">{i + 1}</th>
            <td>
              <svg width="290" height="34" role="img" aria-label={`${p.share_percent.toFixed(0)} %`}>
                <rect y="3" width={wide(p.share_percent)} height="13" rx="2" fill="var(--coffee)" />
                <text x={wide(p.share_percent) + 6} y="14" className="tick">
                  {p.share_percent.toFixed(0)} %
                </text>
                {predicted[i] && (
                  <>
                    <rect
                      y="20"
                      width={wide(predicted[i].share_percent)}
                      height="9"
                      rx="2"
                      fill="none"
                      stroke="var(--ink-3)"
                    />
                    <text x={wide(predicted[i].share_percent) + 6} y="29" className="tick">
                      {TEXT.predicted(predicted[i].share_percent.toFixed(0))}
                    </text>
                  </>
                )}
              </svg>
            </td>
            <td className="figure">{p.mixed_tds_percent.toFixed(2)} %</td>
            <td className="figure">{p.mixed_ey_percent.toFixed(1)} %</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
