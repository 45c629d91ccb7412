import { useMemo, useRef } from "react";
import type { Schemas } from "../api/client";
import { settingText } from "../ui/parts";
import { ends, line, log, sizeTicks, type Scale } from "./scales";
import { useSize } from "./useSize";

type Grinder = Schemas["GrinderView"];
type Mark = Schemas["RailMark"];

interface Props {
  grinders: Grinder[];
  /** Size under the line, µm. */
  size: number;
  setSize: (um: number) => void;
  windows: Schemas["WindowRow"][];
  /** The label of the window that is drawn as a band; the others are brackets. */
  lit?: string;
  chosen?: number;
  choose: (id: number) => void;
  /** The size curve of the grind on the bench, drawn on the same axis. */
  curve?: Schemas["CurveView"];
  /** What the server found on each dial, which weighs how sure each curve is; without them the nearest mark is read. */
  answers: Schemas["WorkbenchTranslation"][];
  /** A setting that the hand turned to. */
  turned: { id: number; setting: string } | null;
}

const LEFT = 168;
const RIGHT = 34;
const CURVE_PX = { few: 112, many: 76 };
const LANE_PX = { least: 66, most: 150 };
const BRACKET_PX = 19;

/** The position of a rail whose curve is nearest to a size. */
export function nearestMark(g: Grinder, size: number): Mark | undefined {
  let best: Mark | undefined;
  for (const m of g.marks)
    if (!best || Math.abs(Math.log(m.d50_um / size)) < Math.abs(Math.log(best.d50_um / size))) best = m;
  return best;
}

/** Grinder dials laid side by side on one µm axis; the line through them reads them all at once. */
export function Rails({ grinders, size, setSize, windows, lit, chosen, choose, curve, answers, turned }: Props) {
  const [ref, { width, height: box }] = useSize();
  const svg = useRef<SVGSVGElement>(null);
  const brackets = windows.filter((w) => w.label !== lit);
  const head = 74 + brackets.length * BRACKET_PX;
  const curvePx = grinders.length > 3 ? CURVE_PX.many : CURVE_PX.few;
  const height = Math.max(box, head + 88 + (curve ? curvePx : 0) + grinders.length * LANE_PX.least);
  const x = useMemo(
    () => log(rangeOf(grinders, size), [LEFT, Math.max(width - RIGHT, LEFT + 80)]),
    [grinders, size, width],
  );
  const top = 56,
    bottom = height - 48;
  const curveTop = bottom - (curve ? curvePx : 0);
  const room = curveTop - head - 34;
  const lane = Math.min(LANE_PX.most, room / Math.max(grinders.length, 1));
  const first = head + 60 + Math.max(0, (room - lane * grinders.length) / 2);

  function moveTo(clientX: number) {
    const left = svg.current?.getBoundingClientRect().left ?? 0;
    setSize(Math.min(ends(x)[1], Math.max(ends(x)[0], x.invert(clientX - left))));
  }

  return (
    <div ref={ref} style={{ height: "100%" }}>
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={height}
          style={{ display: "block", touchAction: "pan-y", userSelect: "none" }}
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
                {t}
              </text>
            </g>
          ))}
          <text className="tick" x={LEFT - 14} y={bottom + 16} textAnchor="end">
            µm
          </text>
          <g style={{ cursor: "ew-resize" }}>
            <path d={`M${x(size)} ${top - 18}V${bottom + 12}`} stroke="var(--persimmon)" strokeWidth="2" />
            <circle cx={x(size)} cy={top - 26} r="8" fill="var(--persimmon)" />
            <text
              x={x(size) + (x(size) > width - 130 ? -16 : 16)}
              textAnchor={x(size) > width - 130 ? "end" : "start"}
              y={top - 20}
              fontSize="18"
              fontWeight="600"
              className="figure"
              style={{ fill: "var(--persimmon-text)" }}
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

function WindowBand({
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
        style={{ fill: lit ? "var(--celadon-text)" : "var(--ink-2)" }}
      >
        {w.label}
      </text>
    </g>
  );
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
      <text x={24} y={base - 30} fontSize="13" style={{ fill: "var(--water)" }}>
        the grind
      </text>
      <text x={24} y={base - 13} fontSize="13" style={{ fill: "var(--water)" }}>
        on the bench
      </text>
    </g>
  );
}

interface RailProps {
  grinder: Grinder;
  x: Scale;
  y: number;
  size: number;
  chosen: boolean;
  choose: () => void;
  /** Little room to the next rail. */
  tight: boolean;
  /** What the server found here, and where the hand turned this dial to: either goes before the nearest mark. */
  answer?: Schemas["WorkbenchTranslation"];
  turned?: string;
}

function Rail({ grinder: g, x, y, size, chosen, choose, tight, answer, turned }: RailProps) {
  const marks = useMemo(() => g.marks.filter((m) => m.d50_um >= ends(x)[0] && m.d50_um <= ends(x)[1]), [g, x]);
  const at = g.marks.find((m) => m.setting === (turned ?? answer?.setting)) ?? nearestMark(g, size);
  const labels = useMemo(() => labelled(g, marks, x), [g, marks, x]);
  const ticks = useMemo(() => withRoom(marks, labels, x), [marks, labels, x]);
  const step = at ? Math.abs(Math.log((nearestOther(g, at)?.d50_um ?? at.d50_um) / at.d50_um)) : 0;
  const before = g.earlier.at(-1);
  const inReach = at && (answer ? answer.reachable : Math.abs(Math.log(at.d50_um / size)) <= step * 0.75 + 0.01);
  // By flow, yield or shape the answer may lie aside of the line.
  const beside = at && answer && answer.match !== "median" ? x(at.d50_um) : x(size);
  return (
    <g>
      <g style={{ cursor: "pointer" }}>
        <rect
          x={4}
          y={y - 34}
          width={LEFT - 30}
          height={58}
          fill="transparent"
          role="button"
          tabIndex={0}
          aria-label={`Read the ${g.name}`}
          aria-pressed={chosen}
          onClick={choose}
          onKeyDown={(e) => {
            if (e.key === "Enter") choose();
          }}
        />
        <text x={24} y={y - 6} fontSize="17" fontWeight="600" pointerEvents="none">
          {g.name}
        </text>
        <text x={24} y={y + 13} fontSize="13" style={{ fill: "var(--ink-2)" }} pointerEvents="none">
          {g.note || g.burrs}
        </text>
        {chosen && <path d={`M14 ${y - 20}v36`} stroke="var(--persimmon)" strokeWidth="3" strokeLinecap="round" />}
      </g>
      {g.no_curve ? (
        <text x={LEFT} y={y + 4} fontSize="14" style={{ fill: "var(--ink-2)" }}>
          {g.no_curve}
        </text>
      ) : (
        <>
          <path className="axis" d={`M${LEFT} ${y}H${x(ends(x)[1])}`} strokeWidth="1.6" />
          {before && (
            <path className="old-era" d={ticksOf(before.marks, x, y + 3, 9)} stroke="var(--ink-3)" opacity="0.7">
              <title>{`before: ${before.label}`}</title>
            </path>
          )}
          <path
            d={ticksOf(
              ticks.filter((m) => !labels.has(m.setting)),
              x,
              y,
              -8,
            )}
            stroke="var(--ink)"
            strokeWidth="1"
          />
          <path
            d={ticksOf(
              ticks.filter((m) => labels.has(m.setting)),
              x,
              y,
              -14,
            )}
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
          {ticks
            .filter((m) => labels.has(m.setting))
            .map((m) => (
              <text key={m.setting} className="tick" x={x(m.d50_um)} y={y - 20} textAnchor="middle">
                {labels.get(m.setting)}
              </text>
            ))}
          {g.points
            .filter((p) => p.d50_um >= ends(x)[0] && p.d50_um <= ends(x)[1])
            .map((p) => (
              <circle
                key={p.id}
                cx={x(p.d50_um)}
                cy={y}
                r="4"
                fill={p.odd ? "var(--ochre)" : "var(--sheet)"}
                stroke={p.used ? "var(--ink)" : "var(--ink-3)"}
                strokeDasharray={p.used ? undefined : "2 2"}
                strokeWidth="1.6"
              >
                <title>{`measured at ${p.setting}: ${Math.round(p.d50_um)} µm`}</title>
              </circle>
            ))}
          {at && (
            <>
              <Blur mark={at} x={x} y={y + 4} />
              <text
                x={beside + 13}
                y={y + (tight ? 33 : 40)}
                fontSize={tight ? 21 : 24}
                fontWeight="600"
                style={{ fill: "var(--persimmon-text)", fontFamily: "var(--words)" }}
                data-testid={`rail-${g.name}`}
              >
                {inReach ? settingText(at.setting) : `not reached (${settingText(at.setting)})`}
              </text>
            </>
          )}
        </>
      )}
    </g>
  );
}

function nearestOther(g: Grinder, at: Mark): Mark | undefined {
  const i = g.marks.indexOf(at);
  return g.marks[i + 1] ?? g.marks[i - 1];
}

/** How sure a reading is: a normal curve's fading over its 95 % interval. */
function Blur({ mark, x, y }: { mark: Mark; x: Scale; y: number }) {
  const middle = x(mark.d50_um),
    sd = Math.max(1.5, (x(mark.high_um) - x(mark.low_um)) / 3.92);
  const low = Math.max(LEFT, middle - 3 * sd),
    high = Math.min(x(ends(x)[1]), middle + 3 * sd);
  if (high <= low) return null;
  const id = `blur${Math.round(middle * 10)}-${Math.round(y)}`;
  const stops = Array.from({ length: 13 }, (_, i) => low + ((high - low) * i) / 12);
  return (
    <g>
      <linearGradient id={id} gradientUnits="userSpaceOnUse" x1={low} x2={high} y1={y} y2={y}>
        {stops.map((px, i) => (
          <stop
            key={i}
            offset={i / 12}
            stopColor="var(--persimmon)"
            stopOpacity={0.5 * Math.exp(-0.5 * ((px - middle) / sd) ** 2)}
          />
        ))}
      </linearGradient>
      <rect x={low} width={high - low} y={y} height={12} fill={`url(#${id})`}>
        <title>{`95 % interval: ${Math.round(mark.low_um)} to ${Math.round(mark.high_um)} µm`}</title>
      </rect>
    </g>
  );
}

const ticksOf = (marks: Mark[], x: Scale, y: number, length: number) =>
  marks
    .filter((m) => m.d50_um >= ends(x)[0] && m.d50_um <= ends(x)[1])
    .map((m) => `M${x(m.d50_um).toFixed(1)} ${y}v${length}`)
    .join("");

/** Ticks with at least three pixels between them; marks with a label stay. */
function withRoom(marks: Mark[], labels: Map<string, string>, x: Scale): Mark[] {
  const gap = marks.length > 1 ? Math.abs(x(marks.at(-1)!.d50_um) - x(marks[0]!.d50_um)) / (marks.length - 1) : 9;
  const every = Math.max(1, Math.ceil(3 / Math.max(gap, 0.01)));
  return marks.filter((m, i) => i % every === 0 || labels.has(m.setting));
}

/** How weighty a mark is on its kind of dial and what it is called there: more is weightier, 0 carries no label. */
function weightOf(g: Grinder, setting: string): [number, string] {
  switch (g.dial.kind) {
    case "clicks":
    case "stepless": {
      const n = Number(setting);
      if (!Number.isInteger(g.dial.kind === "clicks" ? n : Math.round(n * 1000) / 500)) return [0, ""];
      for (const [by, weight] of [
        [20, 6],
        [10, 5],
        [5, 4],
        [2, 3],
        [1, 2],
      ] as const)
        if (n % by === 0) return [weight, String(n)];
      return [1, setting];
    }
    case "numbers": {
      if (setting.includes("/")) return [0, ""];
      const n = Number(setting);
      return [n % 10 === 0 ? 4 : n % 5 === 0 ? 3 : n % 2 === 0 ? 2 : 1, setting];
    }
    case "turns": {
      const [turn, number, click] = setting.split(".");
      if (click !== "0") return [0, ""];
      return number === "0"
        ? [4, `${turn}.0`]
        : [Number(number) % 5 === 0 ? 3 : Number(number) % 2 === 0 ? 2 : 1, `${turn}.${number}`];
    }
    case "seconds":
      return [0, ""]; // blades have no curve, so no rail
    case "rings": {
      const first = g.dial.fine[0] ?? "";
      const coarse = g.dial.coarse.find((c) => setting === c + first || setting === `${c}-${first}`);
      return coarse ? [1, coarse] : [0, ""];
    }
  }
}

/** Marks that carry a label where they have room, the weightiest first. */
function labelled(g: Grinder, marks: Mark[], x: Scale): Map<string, string> {
  const weighed = marks.map((m) => ({ m, weight: weightOf(g, m.setting) })).filter((w) => w.weight[0] > 0);
  for (const least of [1, 2, 3, 4, 5, 6]) {
    const some = weighed.filter((w) => w.weight[0] >= least);
    const gaps = some.slice(1).map((w, i) => Math.abs(x(w.m.d50_um) - x(some[i]!.m.d50_um)) - 3.6 * w.weight[1].length);
    if (least === 6 || gaps.every((gap) => gap >= 12)) return new Map(some.map((w) => [w.m.setting, w.weight[1]]));
  }
  return new Map();
}
