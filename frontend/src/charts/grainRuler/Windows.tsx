import type { Schemas } from "../../api/client";
import type { Scale } from "../scales";
import { nearestWindows } from "../windows";

const STRIP_TOP = 10;

const STRIP_ROW = 17;

/** Room that a window's name needs beside its bar. */
const NAME_PX = 200;

/** The windows of the methods nearest to the grind, a row each above the curve; the chosen method's reaches down through it. */
export function Windows({
  windows,
  x,
  base,
  method,
  d50,
}: {
  windows: Schemas["WindowView"][];
  x: Scale;
  base: number;
  method?: string;
  d50: number;
}) {
  const near = nearestWindows(windows, d50, method);
  const chosen = near[0];
  return (
    <g>
      {chosen && (
        <rect
          x={x(chosen.low_um)}
          width={x(chosen.high_um) - x(chosen.low_um)}
          y={STRIP_TOP}
          height={base - STRIP_TOP}
          fill="var(--celadon-wash)"
          opacity="0.5"
        />
      )}
      {near.map((w, i) => {
        const y = STRIP_TOP + i * STRIP_ROW;
        const left = x(w.low_um) > NAME_PX;
        return (
          <g key={w.label}>
            <rect
              x={x(w.low_um)}
              width={x(w.high_um) - x(w.low_um)}
              y={y}
              height={11}
              rx={2}
              fill={i === 0 ? "var(--celadon)" : "var(--celadon-wash)"}
              opacity={i === 0 ? 0.55 : 1}
            />
            <text
              x={left ? x(w.low_um) - 8 : x(w.high_um) + 8}
              y={y + 10}
              fontSize="12.5"
              textAnchor={left ? "end" : "start"}
              className="in-celadon"
            >
              {w.label}
            </text>
          </g>
        );
      })}
    </g>
  );
}
