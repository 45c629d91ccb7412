import type { Schemas } from "../../../api/client";
import { typed } from "../../../api/client";
import type { Body } from "../../../api/practice";
import { Choice } from "../../../ui/Choice";
import { Setting } from "../../../ui/parts";
import { clock, whole } from "../../../ui/words";
import type { Part } from "./experimentPart";
import { NotedTable } from "./NotedTable";
import { WORDS } from "../words";

const TEXT = WORDS.threeGrinds;

type Three = Extract<Body, { kind: "three-grinds" }>;
const TASTES = ["sour", "bitter", "thin", "heavy", "sweet", "balanced"] as const;

/** Settings side by side: what was predicted, what was found, what was liked. */
export function ThreeGrinds({ body, note, error }: Part & { body: Three }) {
  const change = (i: number, grind: Partial<Schemas["GrindTried"]>) =>
    void note({ ...body, grinds: body.grinds.map((g, k) => (k === i ? { ...g, ...grind } : g)) });
  return (
    <>
      <NotedTable
        error={error}
        label={TEXT.brews}
        columns={[
          { key: "time_s", head: "Time", shown: clock },
          { key: "tds_percent", head: "Strength", unit: "%" },
        ]}
        rows={body.grinds}
        rowName={(i) => {
          const g = body.grinds[i]!;
          return (
            <>
              <b>
                <Setting value={g.setting} />
              </b>{" "}
              <span className="quiet">
                {whole(g.d50_um)} µm{g.predicted_s != null && TEXT.predicted(clock(g.predicted_s))}
              </span>
            </>
          );
        }}
        set={(i, key, text) => change(i, { [key]: text ? typed(text) : null })}
      />
      <h2>{TEXT.howTheyTaste}</h2>
      {body.grinds.map((g, i) => (
        <div className="chips taste-row" key={g.setting} role="group" aria-label={TEXT.tasteAt(g.setting)}>
          <b>
            <Setting value={g.setting} />
          </b>
          {TASTES.map((w) => {
            const strength = g.taste?.[w] ?? 0;
            return (
              <button
                key={w}
                className="chip"
                aria-pressed={strength > 0}
                onClick={() => change(i, { taste: { ...g.taste, [w]: strength ? 0 : 1 } })}
              >
                {w}
              </button>
            );
          })}
        </div>
      ))}
      <h2>{TEXT.whichDidYouLike}</h2>
      <Choice
        label={TEXT.whichDidYouLike}
        options={[...body.grinds.map((g) => g.setting), "none"].map((value) => ({
          value,
          label: value === "none" ? TEXT.noDifference : <Setting value={value} />,
        }))}
        value={body.liked ?? undefined}
        choose={(liked) => void note({ ...body, liked })}
      />
    </>
  );
}
