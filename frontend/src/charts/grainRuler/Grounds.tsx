import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import type { Band } from "./curve";
import { line, type Scale } from "../scales";

interface Placed {
  d: string;
  x: number;
  y: number;
  size: number;
}

/** Grounds drawn to one scale, each at its size on the axis, staggered so that none overlaps another. */
export function Grounds({
  ruler,
  x,
  top,
  height,
  held,
}: {
  ruler: Schemas["RulerGround"][];
  x: Scale;
  top: number;
  height: number;
  held: Band;
}) {
  const placed = useMemo(() => place(ruler, x, height), [ruler, x, height]);
  return (
    <g>
      {placed.map((p, i) => {
        const lit = held && p.size >= held[0] && p.size <= held[1];
        return (
          <path
            key={i}
            d={p.d}
            transform={`translate(${p.x.toFixed(1)} ${(top + p.y).toFixed(1)})`}
            fill={lit ? "var(--persimmon)" : "var(--ground)"}
          />
        );
      })}
    </g>
  );
}

function place(ruler: Schemas["RulerGround"][], x: Scale, height: number): Placed[] {
  const largest = ruler.at(-1)?.diameter_um ?? 1;
  const pxPerUm = Math.min(0.085, (height * 0.72) / largest);
  const taken: { x: number; y: number; r: number }[] = [];
  const placed: Placed[] = [];
  // Largest first, so that small ones fill the room that is left.
  for (const ground of [...ruler].reverse()) {
    const pts = ground.outline_um.map(([a = 0, b = 0]) => [a * pxPerUm, b * pxPerUm] as [number, number]);
    const r = Math.max(...pts.map(([a, b]) => Math.hypot(a, b)), (ground.diameter_um * pxPerUm) / 2, 0.8) + 1.2;
    const cx = x(ground.diameter_um);
    for (let y = r; y <= height - r; y += 2) {
      if (taken.every((t) => Math.hypot(t.x - cx, t.y - y) > t.r + r)) {
        taken.push({ x: cx, y, r });
        const shown = pts.length < 3 ? circle(ground.diameter_um * pxPerUm) : line(pts) + "Z";
        placed.push({ d: shown, x: cx, y, size: ground.diameter_um });
        break;
      }
    }
  }
  return placed;
}

function circle(d: number): string {
  const r = Math.max(0.8, d / 2);
  return `M${-r} 0a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
}
