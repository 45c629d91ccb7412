import { typed, type Schemas } from "../../../api/client";
import type { Body } from "../../../api/practice";
import { clock } from "../../../ui/words";
import type { Part } from "./experimentPart";
import { NotedTable } from "./NotedTable";
import { WORDS } from "../words";

const TEXT = WORDS.handBrews;

type Hand = Extract<Body, { kind: "hand" }>;

const ROWS: [keyof Schemas["HandResult"], string, string, number][] = [
  ["time_s", "Time", "s", 0],
  ["drink_g", "Drink", "g", 1],
  ["tds_percent", "Strength", "%", 2],
  ["pour_rate_g_s", TEXT.pourRate, "g/s", 1],
];

/** Repeats of one plan. */
export function HandBrews({ body, experiment, note, error }: Part & { body: Hand }) {
  const brews = body.brews ?? [];
  const found = experiment.result.hand;
  return (
    <>
      <p className="quiet">
        {body.plan} · {brews.length} {TEXT.ofWord} {body.wanted} {TEXT.brews}
      </p>
      <NotedTable
        error={error}
        label={TEXT.brews2}
        columns={[
          { key: "time_s", head: "Time", shown: clock },
          { key: "drink_g", head: "Drink", unit: "g" },
          { key: "tds_percent", head: "Strength", unit: "%" },
          { key: "pour_rate_g_s", head: TEXT.pourRate, unit: "g/s" },
        ]}
        rows={brews as Record<string, number | null>[]}
        rowName={(i) => `Brew ${i + 1}`}
        set={(i, key, text) => {
          const row = { ...brews[i], [key]: text ? typed(text) : null };
          void note({ ...body, brews: i < brews.length ? brews.map((b, k) => (k === i ? row : b)) : [...brews, row] });
        }}
        remove={(i) => void note({ ...body, brews: brews.filter((_, k) => k !== i) })}
        more
      />
      {found && (
        <table className="noted" aria-label={TEXT.spread}>
          <thead>
            <tr>
              <th>{TEXT.fromBrewToBrew}</th>
              <th>{TEXT.mean}</th>
              <th>{TEXT.spread}</th>
              <th>{TEXT.n95Interval}</th>
              <th>{TEXT.believeAChangeFrom}</th>
            </tr>
          </thead>
          <tbody>
            {ROWS.map(([key, name, unit, digits]) => {
              const s = found[key];
              if (!s) return null;
              const figure = (v: number) => `${v.toFixed(digits)} ${unit}`;
              return (
                <tr key={key}>
                  <th scope="row">{name}</th>
                  <td className="figure">{key === "time_s" ? clock(s.mean) : figure(s.mean)}</td>
                  <td className="figure">±{figure(s.sd)}</td>
                  <td className="figure">{TEXT.to(s.ci95_sd[0]!.toFixed(digits), figure(s.ci95_sd[1]!))}</td>
                  <td className="figure">{figure(s.believed_from)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </>
  );
}
