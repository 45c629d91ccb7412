import type { Schemas } from "../../api/client";
import { LEFT } from "./frame";
import { ends, type Scale } from "../scales";

export function WindowBand({
  window: w,
  x,
  top,
  bottom,
  lit,
}: {
  window: Schemas["WindowRow"];
  x: Scale;
  top: number;
  bottom: number;
  lit: boolean;
}) {
  const left = Math.max(x(w.low_um), LEFT),
    right = Math.min(x(w.high_um), x(ends(x)[1]));
  if (right - left < 8) return null;
  const beyond = right > x(ends(x)[1]) - 106;
  return (
    <g>
      {lit && (
        <rect x={left} width={right - left} y={top} height={bottom - top} fill="var(--celadon-wash)" opacity="0.75" />
      )}
      {!lit && <path d={`M${left} ${top + 36}v-5H${right}v5`} fill="none" stroke="var(--ink-3)" strokeWidth="1" />}
      <text
        x={lit ? (left + right) / 2 : beyond ? left - 8 : right + 8}
        y={lit ? top + 18 : top + 37}
        textAnchor={lit ? "middle" : beyond ? "end" : "start"}
        fontSize="13"
        className={lit ? "in-celadon" : "in-ink-2"}
      >
        {w.label}
      </text>
    </g>
  );
}
