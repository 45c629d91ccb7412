import type { Schemas } from "../../api/client";
import { endingWords } from "../../ui/steeps";
import { clock } from "../../ui/words";
import type { Actual } from "./frame";
import { spread, line, type Scale } from "../scales";
import { WORDS } from "../words";

const TEXT = WORDS.happened;

export const endOf = (plan: Schemas["PlanDocument"], p: Schemas["PredictionDocument"]) =>
  plan.steep
    ? TEXT.byAbout(endingWords(plan.steep.ending).done, clock(p.drawdown_s))
    : TEXT.bedBareAtAboutLastDrip(clock(p.drawdown_s), clock(p.last_drip_s));

export function Bare({
  p,
  half,
  word,
  x,
  top,
  bottom,
  end,
}: {
  p: Schemas["PredictionDocument"];
  half: number;
  word: string;
  x: Scale;
  top: number;
  bottom: number;
  end: number;
}) {
  const low = Math.max(0, p.drawdown_s - half),
    high = Math.min(end, p.drawdown_s + half);
  const middle = Math.min((x(low) + x(high)) / 2, x(end) - 60);
  return (
    <g>
      <rect
        x={x(low)}
        width={x(high) - x(low)}
        y={top}
        height={bottom - top}
        fill="var(--celadon-wash)"
        opacity="0.8"
      />
      <path
        d={`M${x(p.drawdown_s)} ${top}V${bottom}`}
        stroke="var(--celadon)"
        strokeWidth="1.5"
        strokeDasharray="4 4"
      />
      <text x={middle} y={top - 20} textAnchor="middle" fontSize="13" className="in-celadon">
        {word} {clock(p.drawdown_s)}
        {half > 15 ? TEXT.likelyTo(clock(low), clock(high)) : ""}
      </text>
    </g>
  );
}

/** What the lines are, written at their right ends, kept apart. */
export function EndWords({ p, x, y, end }: { p: Schemas["PredictionDocument"]; x: Scale; y: Scale; end: number }) {
  const at = spread([y(p.series.poured_g.at(-1) ?? 0), y(p.series.drink_g.at(-1) ?? 0)], 18, 30, 2000);
  return (
    <g fontSize="13">
      <text x={x(end) + 10} y={at[0]! + 4}>
        {TEXT.poured}
      </text>
      <text x={x(end) + 10} y={at[1]! + 4} className="in-coffee">
        {TEXT.inTheCup}
      </text>
    </g>
  );
}

/** The real course: what was poured and what came out as weighed, the level where it could be found, the bare bed. */
export function Happened({
  actual: a,
  x,
  y,
  z,
  end,
  bottom,
}: {
  actual: Actual;
  x: Scale;
  y: Scale;
  z: Scale | null;
  end: number;
  bottom: number;
}) {
  const read = (t: number[], v: (number | null)[] | undefined, to: Scale) =>
    line(t.flatMap((s, i) => (v?.[i] != null && s <= end ? [[x(s), to(v[i])] as [number, number]] : [])));
  return (
    <g fill="none" stroke="var(--persimmon)" strokeWidth="2.2" strokeLinejoin="round" data-testid="what-happened">
      <path d={read(a.t_s, a.poured_g, y)} />
      <path d={read(a.t_s, a.drink_g, y)} />
      {z && <path d={read(a.level_t_s ?? [], a.level_mm, z)} />}
      {a.bare_bed_s != null && (
        <>
          <path d={`M${x(a.bare_bed_s)} 40V${bottom}`} strokeWidth="1.5" />
          <text x={x(a.bare_bed_s)} y="36" textAnchor="middle" fontSize="13" stroke="none" className="in-persimmon">
            {TEXT.bareAt(clock(a.bare_bed_s))}
          </text>
        </>
      )}
    </g>
  );
}
