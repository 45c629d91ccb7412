import { useRef, type KeyboardEvent, type PointerEvent, type RefObject } from "react";
import type { Schemas } from "../api/client";
import { endingWords } from "../ui/steeps";
import { clock } from "../ui/words";
import { ends, line, linear, spread, type Scale } from "./scales";
import { useSize } from "./useSize";
import { curve, Times } from "./timeAxis";
import { GRAMS_PER_OUNCE } from "../ui/units";
import { useTouch } from "../ui/useMedia";
import { useUnits } from "../ui/useUnits";

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
  move?: (index: number, endS: number, totalG: number) => void;
}

export interface Actual {
  t_s: number[];
  poured_g?: (number | null)[];
  drink_g?: (number | null)[];
  level_t_s?: number[];
  level_mm?: number[];
  bare_bed_s?: number | null;
}

const LEFT = 64;
const BELOW_END_WORDS = 38; // px from the top that the words of the end take
const NEAR_AXIS = 38; // px that a figure of a pour takes
const RIGHT = 96;

const endOf = (plan: Schemas["PlanDocument"], p: Schemas["PredictionDocument"]) =>
  plan.steep
    ? `${endingWords(plan.steep.ending).done} by about ${clock(p.drawdown_s)}`
    : `bed bare at about ${clock(p.drawdown_s)}, last drip ${clock(p.last_drip_s)}`;

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
    <div ref={ref} style={{ height: "100%", minHeight: 310 }}>
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={tall}
          style={{ display: "block" }}
          role={move ? "group" : "img"}
          aria-label={`Poured ${mass(water)} in ${plan.pours!.length} pours; ${endOf(plan, p)}`}
        >
          <Bare
            p={p}
            half={half}
            word={plan.steep ? endingWords(plan.steep.ending).done : standing ? "bed bare" : "last drop falls"}
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

function Bare({
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
      <text x={middle} y={top - 20} textAnchor="middle" fontSize="13" style={{ fill: "var(--celadon-text)" }}>
        {word} {clock(p.drawdown_s)}
        {half > 15 ? `, likely ${clock(low)} to ${clock(high)}` : ""}
      </text>
    </g>
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

/** What the lines are, written at their right ends, kept apart. */
function EndWords({ p, x, y, end }: { p: Schemas["PredictionDocument"]; x: Scale; y: Scale; end: number }) {
  const at = spread([y(p.series.poured_g.at(-1) ?? 0), y(p.series.drink_g.at(-1) ?? 0)], 18, 30, 2000);
  return (
    <g fontSize="13">
      <text x={x(end) + 10} y={at[0]! + 4}>
        poured
      </text>
      <text x={x(end) + 10} y={at[1]! + 4} style={{ fill: "var(--coffee)" }}>
        in the cup
      </text>
    </g>
  );
}

interface PoursProps {
  pours: Schemas["PourDocument"][];
  starts: number[];
  x: Scale;
  y: Scale;
  move?: Props["move"];
  svg: RefObject<SVGSVGElement | null>;
}

/** The pours' ends, each with its running total; a handle to drag in time and size, or to move by the arrow keys. */
function Pours({ pours, starts, x, y, move, svg }: PoursProps) {
  const { mass, massFigure } = useUnits();
  const held = useRef<number | null>(null);
  const touch = useTouch();
  const ends = pours.map((pour, i) => ({
    t: (pour.start_s ?? starts[i] ?? 0) + pour.duration_s,
    total: pours.slice(0, i + 1).reduce((sum, q) => sum + q.water_g, 0),
  }));
  function drag(e: PointerEvent<SVGGElement>, i: number) {
    const box = svg.current?.getBoundingClientRect();
    if (held.current !== i || !box) return;
    move?.(i, x.invert(e.clientX - box.left), y.invert(e.clientY - box.top));
  }
  function key(e: KeyboardEvent<SVGGElement>, i: number) {
    const by = { ArrowRight: [5, 0], ArrowLeft: [-5, 0], ArrowUp: [0, 5], ArrowDown: [0, -5] }[e.key];
    if (!by || !move) return;
    move(i, ends[i]!.t + by[0]!, ends[i]!.total + by[1]!);
    e.preventDefault();
    e.stopPropagation();
  }
  return (
    <g>
      {ends.map(({ t, total }, i) => (
        <g
          key={i}
          {...(move && {
            role: "slider",
            tabIndex: 0,
            "aria-label": `Pour ${i + 1}`,
            "aria-valuenow": Math.round(total),
            "aria-valuetext": `${mass(total)} at ${clock(t)}`,
            style: { cursor: "move", touchAction: "none" },
          })}
          onPointerDown={(e) => {
            if (move) {
              held.current = i;
              e.currentTarget.setPointerCapture(e.pointerId);
            }
          }}
          onPointerMove={(e) => drag(e, i)}
          onPointerUp={() => {
            held.current = null;
          }}
          onKeyDown={(e) => key(e, i)}
        >
          {move && <circle cx={x(t)} cy={y(total)} r={touch ? 22 : 15} fill="transparent" />}
          <circle cx={x(t)} cy={y(total)} r="5.5" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2" />
          <text
            // Near the axis it would lie on the axis' own figures.
            {...(x(t) < LEFT + NEAR_AXIS
              ? { x: x(t) + 9, y: y(total) + 17, textAnchor: "start" }
              : { x: x(t) - 9, y: Math.max(y(total) - 11, BELOW_END_WORDS), textAnchor: "end" })}
            fontSize="15"
            fontWeight="600"
            style={{ fontFamily: "var(--figures)", letterSpacing: "-0.03em" }}
          >
            {massFigure(total)}
          </text>
        </g>
      ))}
    </g>
  );
}

function Level({
  p,
  x,
  z,
  end,
  split,
  steeps,
}: {
  p: Schemas["PredictionDocument"];
  x: Scale;
  z: Scale;
  end: number;
  split: number;
  steeps: boolean;
}) {
  const s = p.series;
  const t = s.t_s.filter((v) => v <= end);
  const low = s.level_low_mm!.slice(0, t.length),
    high = s.level_high_mm!.slice(0, t.length);
  const edge = (v: number[]) => v.map((m, i) => [x(t[i]!), z(m)] as [number, number]);
  const band = line(edge(high)) + "L" + line(edge(low).reverse()).slice(1) + "Z";
  const half = ends(z)[1] / 2;
  return (
    <g>
      {p.stalled && (
        <rect
          x={x(p.pour_starts_s.at(-1) ?? 0)}
          width={Math.max(0, x(end) - x(p.pour_starts_s.at(-1) ?? 0))}
          y={split + 26}
          height={z(0) - split - 26}
          fill="var(--persimmon-wash)"
          opacity="0.7"
        />
      )}
      <text x={x(0)} y={split + 18} fontSize="13" style={{ fill: "var(--water)" }}>
        {steeps ? "water in the brewer, mm" : "water over the bed, mm"}
      </text>
      {p.stalled && (
        <text x={x(end) - 6} y={split + 18} textAnchor="end" fontSize="13" style={{ fill: "var(--persimmon-text)" }}>
          the level stands still: a stall
        </text>
      )}
      {[0, half, ends(z)[1]].map((mm) => (
        <g key={mm}>
          {mm > 0 && <path className="hair" d={`M${x(0)} ${z(mm)}H${x(end)}`} />}
          <text className="tick" x={x(0) - 10} y={z(mm) + 4} textAnchor="end">
            {mm}
          </text>
        </g>
      ))}
      <path d={band} fill="var(--band)" />
      <path
        d={line(t.map((v, i) => [x(v), z(s.level_mm[i] ?? 0)]))}
        fill="none"
        stroke="var(--water)"
        strokeWidth="2.2"
        strokeLinejoin="round"
      />
    </g>
  );
}

/** The real course: what was poured and what came out as weighed, the level where it could be found, the bare bed. */
function Happened({
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
          <text
            x={x(a.bare_bed_s)}
            y="36"
            textAnchor="middle"
            fontSize="13"
            stroke="none"
            style={{ fill: "var(--persimmon-text)" }}
          >
            bare at {clock(a.bare_bed_s)}
          </text>
        </>
      )}
    </g>
  );
}
