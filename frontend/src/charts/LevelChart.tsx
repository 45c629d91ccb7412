import type { Schemas } from "../api/client";
import { clock } from "../ui/words";
import { line, linear, spread, useSize, type Scale } from "./scales";

interface Props {
  document: Schemas["PlanDocument"];
  prediction: Schemas["PredictionDocument"];
  /** Seconds into the brew, when one is on. */
  now?: number | null;
}

const LEFT = 64;
const RIGHT = 96;

/** The plan as steps and the drink as a line in grams; below, in a lane of its own, the water over the bed in millimetres. */
export function LevelChart({ document: plan, prediction: p, now }: Props) {
  const [ref, { width, height }] = useSize();
  const tall = Math.max(height, 310);
  const end = Math.ceil((Math.max(p.last_drip_s, p.drawdown_s + p.half_width95.drawdown_s!) + 12) / 30) * 30;
  const water = p.series.poured_g.at(-1) ?? 0;
  const split = Math.round(tall * 0.6);
  const x = linear([0, end], [LEFT, Math.max(width - RIGHT, LEFT + 60)]);
  const y = linear([0, Math.ceil(water / 50) * 50], [split - 8, 40]);
  const deepest = Math.max(...p.series.level_high_mm!, ...p.series.level_mm, 1);
  const z = linear([0, Math.ceil(deepest / 10) * 10], [tall - 34, split + 30]);
  const half = p.half_width95.drawdown_s!;
  return (
    <div ref={ref} style={{ height: "100%", minHeight: 310 }}>
      {width > 0 && (
        <svg width={width} height={tall} style={{ display: "block" }} role="img" aria-label={`Poured ${Math.round(water)} g in ${plan.pours!.length} pours; bed bare at about ${clock(p.drawdown_s)}, last drip ${clock(p.last_drip_s)}`}>
          <Bare p={p} half={half} x={x} top={40} bottom={tall - 34} end={end} />
          <Times x={x} end={end} y={tall - 34} />
          <Grams y={y} x={x} water={water} />
          <path d={curve(p.series.t_s, p.series.drink_g, x, y, end)} fill="none" stroke="var(--coffee)" strokeWidth="2" />
          <path d={curve(p.series.t_s, p.series.poured_g, x, y, end)} fill="none" stroke="var(--ink)" strokeWidth="2.2" strokeLinejoin="round" />
          <EndWords p={p} x={x} y={y} end={end} />
          <Pours document={plan} starts={p.pour_starts_s} x={x} y={y} />
          <Level p={p} x={x} z={z} end={end} split={split} />
          {now != null && now <= end && <path d={`M${x(now)} 40V${tall - 34}`} stroke="var(--persimmon)" strokeWidth="2" />}
        </svg>
      )}
    </div>
  );
}

function curve(t: number[], v: number[], x: Scale, y: Scale, end: number): string {
  const points: [number, number][] = t.map((s, i) => [x(Math.min(s, end)), y(v[i] ?? 0)]);
  const last = points.at(-1);
  if (last && (t.at(-1) ?? 0) < end) points.push([x(end), last[1]]);
  return line(points);
}

function Bare({ p, half, x, top, bottom, end }: { p: Schemas["PredictionDocument"]; half: number; x: Scale; top: number; bottom: number; end: number }) {
  const low = Math.max(0, p.drawdown_s - half), high = Math.min(end, p.drawdown_s + half);
  const middle = Math.min((x(low) + x(high)) / 2, x(end) - 60);
  return (
    <g>
      <rect x={x(low)} width={x(high) - x(low)} y={top} height={bottom - top} fill="var(--celadon-wash)" opacity="0.8" />
      <path d={`M${x(p.drawdown_s)} ${top}V${bottom}`} stroke="var(--celadon)" strokeWidth="1.5" strokeDasharray="4 4" />
      <text x={middle} y={top - 20} textAnchor="middle" fontSize="13" style={{ fill: "var(--celadon-text)" }}>
        bed bare {clock(p.drawdown_s)}, likely {clock(low)} to {clock(high)}
      </text>
    </g>
  );
}

function Times({ x, end, y }: { x: Scale; end: number; y: number }) {
  const step = end > 420 ? 60 : 30;
  const ticks = Array.from({ length: Math.floor(end / step) + 1 }, (_, i) => i * step);
  return (
    <g>
      <path className="axis" d={`M${x(0)} ${y}H${x(end)}`} />
      {ticks.map((t) => (
        <g key={t}>
          <path className="axis" d={`M${x(t)} ${y}v5`} strokeWidth="1" />
          <text className="tick" x={x(t)} y={y + 20} textAnchor="middle">{clock(t)}</text>
        </g>
      ))}
    </g>
  );
}

function Grams({ y, x, water }: { y: Scale; x: Scale; water: number }) {
  const step = water > 400 ? 200 : 100;
  const ticks = Array.from({ length: Math.floor(y.domain[1] / step) + 1 }, (_, i) => i * step);
  return (
    <g>
      {ticks.map((g) => (
        <g key={g}>
          <path className="hair" d={`M${x(0)} ${y(g)}H${x(x.domain[1])}`} />
          <text className="tick" x={x(0) - 10} y={y(g) + 4} textAnchor="end">{g}{g === ticks.at(-1) ? " g" : ""}</text>
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
      <text x={x(end) + 10} y={at[0]! + 4}>poured</text>
      <text x={x(end) + 10} y={at[1]! + 4} style={{ fill: "var(--coffee)" }}>in the cup</text>
    </g>
  );
}

function Pours({ document: plan, starts, x, y }: { document: Schemas["PlanDocument"]; starts: number[]; x: Scale; y: Scale }) {
  let total = 0;
  return (
    <g>
      {plan.pours!.map((pour, i) => {
        total += pour.water_g;
        const t = (starts[i] ?? pour.start_s ?? 0) + pour.duration_s;
        return (
          <g key={i}>
            <circle cx={x(t)} cy={y(total)} r="5.5" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="2" />
            <text x={x(t) - 9} y={y(total) - 11} textAnchor="end" fontSize="15" fontWeight="600" style={{ fontFamily: "var(--figures)", letterSpacing: "-0.03em" }}>{Math.round(total)}</text>
          </g>
        );
      })}
    </g>
  );
}

function Level({ p, x, z, end, split }: { p: Schemas["PredictionDocument"]; x: Scale; z: Scale; end: number; split: number }) {
  const s = p.series;
  const t = s.t_s.filter((v) => v <= end);
  const low = s.level_low_mm!.slice(0, t.length), high = s.level_high_mm!.slice(0, t.length);
  const edge = (v: number[]) => v.map((m, i) => [x(t[i]!), z(m)] as [number, number]);
  const band = line(edge(high)) + "L" + line(edge(low).reverse()).slice(1) + "Z";
  const half = z.domain[1] / 2;
  return (
    <g>
      <text x={x(0)} y={split + 18} fontSize="13" style={{ fill: "var(--water)" }}>water over the bed, mm</text>
      {[0, half, z.domain[1]].map((mm) => (
        <g key={mm}>
          {mm > 0 && <path className="hair" d={`M${x(0)} ${z(mm)}H${x(end)}`} />}
          <text className="tick" x={x(0) - 10} y={z(mm) + 4} textAnchor="end">{mm}</text>
        </g>
      ))}
      <path d={band} fill="var(--band)" />
      <path d={line(t.map((v, i) => [x(v), z(s.level_mm[i] ?? 0)]))} fill="none" stroke="var(--water)" strokeWidth="2.2" strokeLinejoin="round" />
    </g>
  );
}
