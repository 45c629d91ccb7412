import { useRef, useMemo } from "react";
import type { Schemas } from "../api/client";
import { whole } from "../ui/words";
import { LEFT, type Grinder } from "./rails/frame";
import { Rail } from "./rails/Rail";
import { WindowBand } from "./rails/WindowBand";
import { log, ends, sizeTicks, line, type Scale } from "./scales";
import { useSize } from "./useSize";
import { WORDS } from "./words";

const TEXT = WORDS.rails;

interface Props {
  grinders: Grinder[];
  /** Size under the line, µm. */
  size: number;
  setSize: (um: number) => void;
  windows: Schemas["WindowRow"][];
  /** The label of the window that is drawn as a band; the others are brackets. */
  lit?: string;
  chosen?: number;
  /** The grinder and setting at hand. */
  inUse?: Schemas["WorkbenchGrinder"] | null;
  choose: (id: number) => void;
  /** The size curve of the grind on the bench, drawn on the same axis. */
  curve?: Schemas["CurveView"];
  /** What the server found on each dial, which weighs how sure each curve is; without them the nearest mark is read. */
  answers: Schemas["WorkbenchTranslation"][];
  /** A setting that the hand turned to. */
  turned: { id: number; setting: string } | null;
}

const RIGHT = 34;

const CURVE_PX = { few: 112, many: 76 };

const LANE_PX = { least: 66, most: 150 };

const BRACKET_PX = 19;

/** Grinder dials laid side by side on one µm axis; the line through them reads them all at once. */
export function Rails({ grinders, size, setSize, windows, lit, chosen, inUse, choose, curve, answers, turned }: Props) {
  const [ref, { width, height: box }] = useSize();
  const svg = useRef<SVGSVGElement>(null);
  const brackets = windows.filter((w) => w.label !== lit);
  const head = 74 + brackets.length * BRACKET_PX;
  const curvePx = grinders.length > 3 ? CURVE_PX.many : CURVE_PX.few;
  const height = Math.max(box, head + 72 + (curve ? curvePx : 0) + grinders.length * LANE_PX.least);
  const x = useMemo(
    () => log(rangeOf(grinders, size), [LEFT, Math.max(width - RIGHT, LEFT + 80)]),
    [grinders, size, width],
  );
  const top = 56,
    bottom = height - 48;
  const curveTop = bottom - (curve ? curvePx : 0);
  const room = curveTop - head - 24;
  const lane = Math.min(LANE_PX.most, room / Math.max(grinders.length, 1));
  const first = head + 60 + Math.max(0, (room - lane * grinders.length) / 2);

  function moveTo(clientX: number) {
    const left = svg.current?.getBoundingClientRect().left ?? 0;
    setSize(Math.min(ends(x)[1], Math.max(ends(x)[0], x.invert(clientX - left))));
  }

  return (
    <div ref={ref} className="chart low">
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={height}
          className="rails"
          onPointerDown={(e) => {
            if (e.clientX - (svg.current?.getBoundingClientRect().left ?? 0) > LEFT - 12) {
              e.currentTarget.setPointerCapture(e.pointerId);
              moveTo(e.clientX);
            }
          }}
          onPointerMove={(e) => e.buttons === 1 && e.currentTarget.hasPointerCapture(e.pointerId) && moveTo(e.clientX)}
        >
          {windows
            .filter((w) => w.label === lit)
            .map((w) => (
              <WindowBand key={w.label} window={w} x={x} top={top} bottom={bottom} lit />
            ))}
          {brackets.map((w, i) => (
            <WindowBand key={w.label} window={w} x={x} top={top + i * BRACKET_PX} bottom={bottom} lit={false} />
          ))}
          {grinders.map((g, i) => (
            <Rail
              key={g.id}
              grinder={g}
              x={x}
              y={first + i * lane}
              size={size}
              chosen={g.id === chosen}
              inUse={g.id === inUse?.id ? inUse : undefined}
              choose={() => choose(g.id)}
              tight={lane < 80}
              answer={answers.find((a) => a.grinder_id === g.id)}
              turned={turned?.id === g.id ? turned.setting : undefined}
            />
          ))}
          {curve && <GrindCurve curve={curve} x={x} base={bottom + 12} tall={curvePx - 26} />}
          <path className="axis" d={`M${LEFT} ${bottom + 12}H${x(ends(x)[1])}`} />
          {sizeTicks(x, 50).map((t) => (
            <g key={t}>
              <path d={`M${x(t)} ${bottom + 12}v6`} stroke="var(--ink-2)" />
              <text className="tick" x={x(t)} y={bottom + 33} textAnchor="middle">
                {whole(t)}
              </text>
            </g>
          ))}
          <text className="tick" x={LEFT - 14} y={bottom + 16} textAnchor="end">
            µm
          </text>
          <g className="slides">
            <path d={`M${x(size)} ${top - 18}V${bottom + 12}`} stroke="var(--persimmon)" strokeWidth="2" />
            <circle cx={x(size)} cy={top - 26} r="8" fill="var(--persimmon)" />
            <text
              x={x(size) + (x(size) > width - 130 ? -16 : 16)}
              textAnchor={x(size) > width - 130 ? "end" : "start"}
              y={top - 20}
              fontSize="18"
              fontWeight="600"
              className="figure in-persimmon"
            >
              {Math.round(size)} µm
            </text>
          </g>
        </svg>
      )}
    </div>
  );
}

function rangeOf(grinders: Grinder[], size: number): [number, number] {
  const low = Math.min(...grinders.flatMap((g) => (g.points.length ? g.points.map((p) => p.d50_um) : [])), size, 520);
  const high = Math.max(...grinders.flatMap((g) => g.points.map((p) => p.d50_um)), size, 900);
  return [Math.max(120, low * 0.68), Math.min(2600, high * 1.32)];
}

function GrindCurve({ curve, x, base, tall }: { curve: Schemas["CurveView"]; x: Scale; base: number; tall: number }) {
  const peak = Math.max(...curve.density, 0.01);
  const points = curve.size_um
    .map((s, i) => [x(s), base - ((curve.density[i] ?? 0) / peak) * tall] as [number, number])
    .filter(([px]) => px >= LEFT && px <= x(ends(x)[1]));
  if (points.length < 2) return null;
  const area = line(points) + `L${points.at(-1)![0]} ${base}L${points[0]![0]} ${base}Z`;
  return (
    <g>
      <path d={area} fill="var(--band)" />
      <path d={line(points)} fill="none" stroke="var(--water)" strokeWidth="1.8" />
      <text x={24} y={base - 30} fontSize="13" className="in-water">
        {TEXT.theGrind}
      </text>
      <text x={24} y={base - 13} fontSize="13" className="in-water">
        {TEXT.onTheBench}
      </text>
    </g>
  );
}
