import type { Schemas } from "../../api/client";
import { linear, line } from "../../charts/scales";
import { WORDS } from "./words";

const TEXT = WORDS.spark;

const WIDTH = 150,
  HEIGHT = 34;

/** Answers over time as a small chart: the line of values, with what went wrong as open marks. */
export function Spark({ drill }: { drill: Schemas["DrillView"] }) {
  const points = drill.series;
  if (points.length < 2) return <span className="spark" aria-hidden="true" />;
  const values = points.map((p) => p.value);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const x = linear([0, points.length - 1], [5, WIDTH - 5]);
  const y = linear([low, high === low ? low + 1 : high], [HEIGHT - 6, 6]);
  const zero = drill.drill === "size" && low < 0 && high > 0;
  return (
    <svg
      className="spark"
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label={TEXT.lastAnswersOfThemGood(points.length, points.filter((p) => p.well).length)}
    >
      {zero && <path d={`M0 ${y(0)}H${WIDTH}`} stroke="var(--hairline)" />}
      <path d={line(points.map((p, i) => [x(i), y(p.value)]))} fill="none" stroke="var(--ink-3)" strokeWidth="1.2" />
      {points.map((p, i) => (
        <circle
          key={i}
          cx={x(i)}
          cy={y(p.value)}
          r="2.8"
          fill={p.well ? "var(--celadon)" : "var(--sheet)"}
          stroke={p.well ? "var(--celadon)" : "var(--ochre)"}
          strokeWidth="1.3"
        />
      ))}
    </svg>
  );
}
