import type { Schemas } from "../../api/client";
import { line, ends, type Scale } from "../scales";
import { WORDS } from "../words";

const TEXT = WORDS.level;

export function Level({
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
      <text x={x(0)} y={split + 18} fontSize="13" className="in-water">
        {steeps ? TEXT.waterInTheBrewerMm : TEXT.waterOverTheBedMm}
      </text>
      {p.stalled && (
        <text x={x(end) - 6} y={split + 18} textAnchor="end" fontSize="13" className="in-persimmon">
          {TEXT.theLevelStandsStillAStall}
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
