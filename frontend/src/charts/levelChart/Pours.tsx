import { useRef, type RefObject, type PointerEvent, type KeyboardEvent } from "react";
import type { Schemas } from "../../api/client";
import { useTouch } from "../../ui/useMedia";
import { useUnits } from "../../ui/useUnits";
import { clock } from "../../ui/words";
import type { Scale } from "../scales";
import { LEFT, type MovePour } from "./frame";

const BELOW_END_WORDS = 38; // px from the top that the words of the end take
const NEAR_AXIS = 38; // px that a figure of a pour takes

interface PoursProps {
  pours: Schemas["PourDocument"][];
  starts: number[];
  x: Scale;
  y: Scale;
  move?: MovePour;
  svg: RefObject<SVGSVGElement | null>;
}

/** The pours' ends, each with its running total; a handle to drag in time and size, or to move by the arrow keys. */
export function Pours({ pours, starts, x, y, move, svg }: PoursProps) {
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
            className="in-figures"
          >
            {massFigure(total)}
          </text>
        </g>
      ))}
    </g>
  );
}
