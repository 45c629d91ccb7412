import { useRef } from "react";
import type { Schemas } from "../api/client";
import { endingWords } from "../ui/steeps";
import { GRAMS_PER_OUNCE } from "../ui/units";
import { useUnits } from "../ui/useUnits";
import { endOf, Bare, EndWords, Happened } from "./levelChart/Happened";
import { LEFT, type Actual, type MovePour } from "./levelChart/frame";
import { Level } from "./levelChart/Level";
import { Pours } from "./levelChart/Pours";
import { linear, ends, type Scale } from "./scales";
import { Times, curve } from "./timeAxis";
import { useSize } from "./useSize";
import { WORDS } from "./words";

const TEXT = WORDS.levelChart;

interface Props {
  document: Schemas["PlanDocument"];
  prediction: Schemas["PredictionDocument"];
  /** Seconds into the brew, when one is on. */
  now?: number | null;
  /** Pours as the hand moved them, which the prediction may not have followed yet. */
  pours?: Schemas["PourDocument"][] | null;
  /** What really happened, drawn over the plan in the accent. */
  actual?: Actual;
  /** Move the end of a pour to a time and a total. */
  move?: MovePour;
}

const RIGHT = 96;

/** The plan as steps and the drink as a line in grams; below, in a lane of its own, the water over the bed in millimetres. */
export function LevelChart({ document: plan, prediction: p, now, pours, actual, move }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const { mass } = useUnits();
  const [ref, { width, height }] = useSize();
  const tall = Math.max(height, 310);
  const latest = Math.max(
    p.last_drip_s,
    p.drawdown_s + p.half_width95.drawdown_s!,
    actual?.t_s.at(-1) ?? 0,
    actual?.bare_bed_s ?? 0,
  );
  const unit = latest > 7200 ? 3600 : latest > 900 ? 300 : 30;
  const end = Math.ceil((latest * 1.02 + (unit > 30 ? 0 : 10)) / unit) * unit;
  const water = p.series.poured_g.at(-1) ?? 0;
  const split = Math.round(tall * 0.6);
  const x = linear([0, end], [LEFT, Math.max(width - RIGHT, LEFT + 60)]);
  const y = linear([0, Math.ceil(water / 50) * 50], [split - 8, 40]);
  const deepest = Math.max(...p.series.level_high_mm!, ...p.series.level_mm, ...(actual?.level_mm ?? []), 1);
  const z = linear([0, Math.ceil(deepest / 10) * 10], [tall - 34, split + 30]);
  const half = p.half_width95.drawdown_s!;
  const standing = Math.max(...p.series.level_mm) > 0.5;
  return (
    <div ref={ref} className="chart">
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={tall}
          className="block"
          role={move ? "group" : "img"}
          aria-label={TEXT.pouredInPours(mass(water), plan.pours!.length, endOf(plan, p))}
        >
          <Bare
            p={p}
            half={half}
            word={plan.steep ? endingWords(plan.steep.ending).done : standing ? TEXT.bedBare : TEXT.lastDropFalls}
            x={x}
            top={40}
            bottom={tall - 34}
            end={end}
          />
          <Times x={x} end={end} y={tall - 34} />
          <Grams y={y} x={x} water={water} />
          <path
            d={curve(p.series.t_s, p.series.drink_g, x, y, end)}
            fill="none"
            stroke="var(--coffee)"
            strokeWidth="2"
          />
          <path
            d={curve(p.series.t_s, p.series.poured_g, x, y, end)}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="2.2"
            strokeLinejoin="round"
          />
          <EndWords p={p} x={x} y={y} end={end} />
          {actual && <Happened actual={actual} x={x} y={y} z={standing ? z : null} end={end} bottom={tall - 34} />}
          <Pours pours={pours ?? plan.pours!} starts={p.pour_starts_s} x={x} y={y} move={move} svg={svg} />
          {standing && <Level p={p} x={x} z={z} end={end} split={split} steeps={Boolean(plan.steep)} />}
          {now != null && now <= end && (
            <path d={`M${x(now)} 40V${tall - 34}`} stroke="var(--persimmon)" strokeWidth="2" />
          )}
        </svg>
      )}
    </div>
  );
}

function Grams({ y, x, water }: { y: Scale; x: Scale; water: number }) {
  const { units } = useUnits();
  const step = units.mass === "oz" ? (water > 400 ? 10 : 5) : water > 400 ? 200 : 100;
  const inUnit = units.mass === "oz" ? GRAMS_PER_OUNCE : 1;
  const ticks = Array.from({ length: Math.floor(ends(y)[1] / inUnit / step) + 1 }, (_, i) => i * step);
  return (
    <g>
      {ticks.map((g) => (
        <g key={g}>
          <path className="hair" d={`M${x(0)} ${y(inUnit * g)}H${x(ends(x)[1])}`} />
          <text className="tick" x={x(0) - 10} y={y(inUnit * g) + 4} textAnchor="end">
            {g}
            {g === ticks.at(-1) ? ` ${units.mass}` : ""}
          </text>
        </g>
      ))}
    </g>
  );
}
