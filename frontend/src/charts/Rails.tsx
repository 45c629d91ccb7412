import { useMemo, useRef } from "react";
import type { Schemas } from "../api/client";
import { settingText } from "../ui/parts";
import { line, log, sizeTicks, type Scale, useSize } from "./scales";

type Grinder = Schemas["GrinderView"];
type Mark = Schemas["RailMark"];

interface Props {
  grinders: Grinder[];
  /** Size under the line, µm. */
  size: number;
  setSize: (um: number) => void;
  windows: Schemas["WindowView"][];
  chosen?: number;
  choose: (id: number) => void;
  method: string;
  /** The size curve of the grind on the bench, drawn on the same axis. */
  curve?: Schemas["CurveView"];
}

const LEFT = 168;
const RIGHT = 34;
const CURVE_PX = 128;

/** The position of a rail whose curve is nearest to a size. */
export function nearestMark(g: Grinder, size: number): Mark | undefined {
  let best: Mark | undefined;
  for (const m of g.marks) if (!best || Math.abs(Math.log(m.d50_um / size)) < Math.abs(Math.log(best.d50_um / size))) best = m;
  return best;
}

/** Grinder dials laid side by side on one µm axis; the line through them reads them all at once. */
export function Rails({ grinders, size, setSize, windows, chosen, choose, method, curve }: Props) {
  const [ref, { width, height: box }] = useSize();
  const svg = useRef<SVGSVGElement>(null);
  const height = Math.max(box, 280 + grinders.length * 104);
  const x = useMemo(() => log(rangeOf(grinders, size), [LEFT, Math.max(width - RIGHT, LEFT + 80)]), [grinders, size, width]);
  const top = 56, bottom = height - 54;
  const curveTop = bottom - (curve ? CURVE_PX : 0);
  const lane = Math.min(150, (curveTop - top - 40) / Math.max(grinders.length, 1));
  const first = top + 84 + Math.max(0, (curveTop - top - 40 - lane * grinders.length) / 2);

  function moveTo(clientX: number) {
    const left = svg.current?.getBoundingClientRect().left ?? 0;
    setSize(Math.min(x.domain[1], Math.max(x.domain[0], x.invert(clientX - left))));
  }

  return (
    <div ref={ref} style={{ height: "100%" }}>
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={height}
          style={{ display: "block", touchAction: "none", userSelect: "none" }}
          onPointerDown={(e) => { if (e.clientX - (svg.current?.getBoundingClientRect().left ?? 0) > LEFT - 12) { e.currentTarget.setPointerCapture(e.pointerId); moveTo(e.clientX); } }}
          onPointerMove={(e) => e.buttons === 1 && e.currentTarget.hasPointerCapture(e.pointerId) && moveTo(e.clientX)}
        >
          {windows.map((w) => <WindowBand key={w.label} window={w} x={x} top={top} bottom={bottom} lit={w.method === method} />)}
          {grinders.map((g, i) => (
            <Rail key={g.id} grinder={g} x={x} y={first + i * lane} size={size} chosen={g.id === chosen} choose={() => choose(g.id)} />
          ))}
          {curve && <GrindCurve curve={curve} x={x} base={bottom + 12} />}
          <path className="axis" d={`M${LEFT} ${bottom + 12}H${x(x.domain[1])}`} />
          {sizeTicks(x, 50).map((t) => (
            <g key={t}>
              <path d={`M${x(t)} ${bottom + 12}v6`} stroke="var(--ink-2)" />
              <text className="tick" x={x(t)} y={bottom + 33} textAnchor="middle">{t}</text>
            </g>
          ))}
          <text className="tick" x={LEFT - 14} y={bottom + 16} textAnchor="end">µm</text>
          <g style={{ cursor: "ew-resize" }}>
            <path d={`M${x(size)} ${top - 18}V${bottom + 12}`} stroke="var(--persimmon)" strokeWidth="2" />
            <circle cx={x(size)} cy={top - 26} r="8" fill="var(--persimmon)" />
            <text x={x(size) + (x(size) > width - 130 ? -16 : 16)} textAnchor={x(size) > width - 130 ? "end" : "start"} y={top - 20} fontSize="18" fontWeight="600" className="figure" style={{ fill: "var(--persimmon-text)" }}>
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

function WindowBand({ window: w, x, top, bottom, lit }: { window: Schemas["WindowView"]; x: Scale; top: number; bottom: number; lit: boolean }) {
  const left = Math.max(x(w.low_um), LEFT), right = Math.min(x(w.high_um), x(x.domain[1]));
  if (right - left < 8) return null;
  return (
    <g>
      {lit && <rect x={left} width={right - left} y={top} height={bottom - top} fill="var(--celadon-wash)" opacity="0.75" />}
      {!lit && <path d={`M${left} ${top + 36}v-5H${right}v5`} fill="none" stroke="var(--ink-3)" strokeWidth="1" />}
      <text x={lit ? (left + right) / 2 : right + 8} y={lit ? top + 18 : top + 37} textAnchor={lit ? "middle" : "start"} fontSize="13" style={{ fill: lit ? "var(--celadon-text)" : "var(--ink-2)" }}>
        {w.label}
      </text>
    </g>
  );
}

function GrindCurve({ curve, x, base }: { curve: Schemas["CurveView"]; x: Scale; base: number }) {
  const peak = Math.max(...curve.density, 0.01);
  const points = curve.size_um
    .map((s, i) => [x(s), base - ((curve.density[i] ?? 0) / peak) * (CURVE_PX - 44)] as [number, number])
    .filter(([px]) => px >= LEFT && px <= x(x.domain[1]));
  if (points.length < 2) return null;
  const area = line(points) + `L${points.at(-1)![0]} ${base}L${points[0]![0]} ${base}Z`;
  return (
    <g>
      <path d={area} fill="var(--band)" />
      <path d={line(points)} fill="none" stroke="var(--water)" strokeWidth="1.8" />
      <text x={24} y={base - 30} fontSize="13" style={{ fill: "var(--water)" }}>the grind</text>
      <text x={24} y={base - 13} fontSize="13" style={{ fill: "var(--water)" }}>on the bench</text>
    </g>
  );
}

function Rail({ grinder: g, x, y, size, chosen, choose }: { grinder: Grinder; x: Scale; y: number; size: number; chosen: boolean; choose: () => void }) {
  const marks = g.marks.filter((m) => m.d50_um >= x.domain[0] && m.d50_um <= x.domain[1]);
  const at = nearestMark(g, size);
  const labels = useMemo(() => labelled(marks, x), [marks, x]);
  const step = at ? Math.abs(Math.log((nearestOther(g, at)?.d50_um ?? at.d50_um) / at.d50_um)) : 0;
  const inReach = at && Math.abs(Math.log(at.d50_um / size)) <= step * 0.75 + 0.01;
  return (
    <g>
      <g onClick={choose} style={{ cursor: "pointer" }} role="button" tabIndex={0} aria-label={`Read the ${g.name}`} aria-pressed={chosen} onKeyDown={(e) => { if (e.key === "Enter") choose(); }}>
        <rect x={4} y={y - 34} width={LEFT - 30} height={58} fill="transparent" />
        <text x={24} y={y - 6} fontSize="17" fontWeight="600">{g.name}</text>
        <text x={24} y={y + 13} fontSize="13" style={{ fill: "var(--ink-2)" }}>{g.note || g.burrs}</text>
        {chosen && <path d={`M14 ${y - 20}v36`} stroke="var(--persimmon)" strokeWidth="3" strokeLinecap="round" />}
      </g>
      {g.no_curve ? (
        <text x={LEFT} y={y + 4} fontSize="14" style={{ fill: "var(--ink-2)" }}>{g.no_curve}</text>
      ) : (
        <>
          <path className="axis" d={`M${LEFT} ${y}H${x(x.domain[1])}`} strokeWidth="1.6" />
          {marks.map((m) => (
            <path key={m.setting} d={`M${x(m.d50_um).toFixed(1)} ${y}v${labels.has(m.setting) ? -14 : -8}`} stroke="var(--ink)" strokeWidth={labels.has(m.setting) ? 1.5 : 1} />
          ))}
          {marks.filter((m) => labels.has(m.setting)).map((m) => (
            <text key={m.setting} className="tick" x={x(m.d50_um)} y={y - 20} textAnchor="middle">{m.setting}</text>
          ))}
          {g.points.map((p) => (
            <circle key={p.id} cx={x(p.d50_um)} cy={y} r="4" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.6">
              <title>{`measured at ${p.setting}: ${Math.round(p.d50_um)} µm`}</title>
            </circle>
          ))}
          {at && (
            <>
              <rect x={x(at.low_um)} width={Math.max(4, x(at.high_um) - x(at.low_um))} y={y + 5} height={11} rx={5.5} fill="var(--persimmon)" opacity="0.28">
                <title>{`95 of 100: ${Math.round(at.low_um)} to ${Math.round(at.high_um)} µm`}</title>
              </rect>
              <text x={x(size) + 13} y={y + 40} fontSize="24" fontWeight="600" style={{ fill: "var(--persimmon-text)", fontFamily: "var(--words)" }} data-testid={`rail-${g.name}`}>
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

/** Marks that carry a label: whole numbers with room, every second or fifth where they crowd. */
function labelled(marks: Mark[], x: Scale): Set<string> {
  const whole = marks.filter((m) => !m.setting.includes("/"));
  for (const every of [1, 2, 5, 10, 20]) {
    const some = whole.filter((m) => Number(m.setting) % every === 0);
    const gaps = some.slice(1).map((m, i) => Math.abs(x(m.d50_um) - x(some[i]!.d50_um)));
    if (gaps.every((g) => g >= 24) || every === 20) return new Set(some.map((m) => m.setting));
  }
  return new Set();
}

