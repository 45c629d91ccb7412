import { Select } from "antd";
import { useState } from "react";
import { scaleLinear, scaleTime } from "d3-scale";
import { useSlipsOverTime } from "../../api/slips";
import type { Schemas } from "../../api/client";
import { useSize } from "../../charts/useSize";
import { dayOfDate } from "../../ui/dates";
import { clock, whole } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.months;

type Dot = Schemas["SlipDot"];
type Row = { label: string; of: (d: Dot) => number | null; write: (v: number) => string; least: [number, number] };

const ROWS: Row[] = [
  {
    label: TEXT.time,
    of: (d) => (d.drawdown_s == null ? null : d.drawdown_s / 60),
    write: (v) => clock(60 * v),
    least: [2, 4],
  },
  { label: TEXT.strength, of: (d) => d.tds_percent, write: (v) => v.toFixed(2), least: [1, 1.5] },
  { label: TEXT.liking, of: (d) => d.liked, write: String, least: [1, 5] },
  { label: TEXT.size, of: (d) => d.median_um, write: whole, least: [500, 900] },
];
const LEFT = 62,
  RIGHT = 20,
  ROW_PX = 104,
  GAP_PX = 36,
  FOOT_PX = 40,
  LEAST_DAYS_MS = 7 * 86_400_000;

/** A coffee's months as a picture: time, strength, liking and size over the date, each dot a slip. */
export function Months() {
  const [coffee, setCoffee] = useState("");
  const found = useSlipsOverTime(coffee, true).data;
  if (!found) return null;
  return (
    <section className="months">
      <label className="quiet">
        {TEXT.coffee}{" "}
        <Select
          aria-label={TEXT.coffee}
          className="field-l"
          value={found.coffee}
          onChange={setCoffee}
          options={found.coffees.map((value) => ({ value, label: value || "–" }))}
        />
      </label>
      <Picture coffee={found.coffee} dots={found.dots} />
    </section>
  );
}

function Picture({ coffee, dots }: { coffee: string; dots: Dot[] }) {
  const [ref, { width }] = useSize();
  const rows = ROWS.filter((r) => dots.some((d) => r.of(d) != null));
  if (rows.length === 0) return <p className="quiet">{TEXT.nothingYet}</p>;
  const times = dots.map((d) => new Date(d.created_at).getTime());
  const [first, last] = [Math.min(...times), Math.max(...times)];
  const spare = Math.max(0, LEAST_DAYS_MS - (last - first)) / 2;
  const x = scaleTime([new Date(first - spare), new Date(last + spare)], [LEFT, Math.max(width - RIGHT, LEFT + 80)]);
  const height = rows.length * (ROW_PX + GAP_PX) + FOOT_PX;
  const ticks = x.ticks(Math.max(2, Math.floor(width / 160)));
  return (
    <div ref={ref} className="chart">
      {width > 0 && (
        <svg width={width} height={height} role="img" aria-label={TEXT.months(coffee)}>
          {rows.map((row, i) => (
            <RowOfDots
              key={row.label}
              row={row}
              dots={dots}
              x={(d) => x(new Date(d.created_at))}
              top={i * (ROW_PX + GAP_PX) + GAP_PX - 8}
              width={width}
            />
          ))}
          {ticks.map((t) => (
            <text key={t.getTime()} className="tick" x={x(t)} y={height - 10} textAnchor="middle">
              {dayOfDate(t.toISOString())}
            </text>
          ))}
        </svg>
      )}
    </div>
  );
}

function RowOfDots({
  row,
  dots,
  x,
  top,
  width,
}: {
  row: Row;
  dots: Dot[];
  x: (d: Dot) => number;
  top: number;
  width: number;
}) {
  const seen = dots.flatMap((d) => (row.of(d) == null ? [] : [{ d, v: row.of(d)! }]));
  const values = seen.map((s) => s.v);
  const y = scaleLinear(
    [Math.min(...values, row.least[0]), Math.max(...values, row.least[1])],
    [top + ROW_PX, top],
  ).nice(3);
  return (
    <g>
      <text x={LEFT} y={top - 12} fontSize="13" className="in-ink-2">
        {row.label}
      </text>
      {y.ticks(3).map((t) => (
        <g key={t}>
          <path className="grid" d={`M${LEFT} ${y(t)}H${width - RIGHT}`} stroke="var(--hairline)" />
          <text className="tick" x={LEFT - 8} y={y(t) + 4} textAnchor="end">
            {row.write(t)}
          </text>
        </g>
      ))}
      {seen.map(({ d, v }) => (
        <circle key={d.id} cx={x(d)} cy={y(v)} r="4.5" fill="var(--ink)" fillOpacity="0.78">
          <title>{TEXT.dot(d.number, dayOfDate(d.created_at), row.write(v))}</title>
        </circle>
      ))}
    </g>
  );
}
