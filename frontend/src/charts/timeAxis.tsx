import { clock } from "../ui/words";
import { line, type Scale } from "./scales";

/** A course over time as a path; it is drawn on level to the end of the axis. */
export function curve(t: number[], v: number[], x: Scale, y: Scale, end: number): string {
  const points: [number, number][] = t.map((s, i) => [x(Math.min(s, end)), y(v[i] ?? 0)]);
  const last = points.at(-1);
  if (last && (t.at(-1) ?? 0) < end) points.push([x(end), last[1]]);
  return line(points);
}

/** "½ h", "1 h", "1½ h". */
function hoursOf(t: number): string {
  const whole = Math.floor(t / 3600);
  const half = t % 3600 ? "½" : "";
  return t === 0 ? "0" : `${whole || !half ? whole : ""}${half} h`;
}

const TICK_PX = 52;

/** The axis of time, with ticks that have room. */
export function Times({ x, end, y }: { x: Scale; end: number; y: number }) {
  const most = Math.max(2, Math.min(14, Math.floor(Math.abs(x(end) - x(0)) / TICK_PX)));
  const step = [30, 60, 120, 300, 600, 1800, 3600, 7200, 14400].find((s) => end / s <= most) ?? 28800;
  const ticks = Array.from({ length: Math.floor(end / step) + 1 }, (_, i) => i * step);
  const hours = end > 7200;
  return (
    <g>
      <path className="axis" d={`M${x(0)} ${y}H${x(end)}`} />
      {ticks.map((t) => (
        <g key={t}>
          <path className="axis" d={`M${x(t)} ${y}v5`} strokeWidth="1" />
          <text className="tick" x={x(t)} y={y + 20} textAnchor="middle">
            {hours ? hoursOf(t) : clock(t)}
          </text>
        </g>
      ))}
    </g>
  );
}
