import { useMemo, useRef } from "react";
import type { Schemas } from "../api/client";
import { whole } from "../ui/words";
import { nearestWindows } from "./windows";
import { ends, line, log, sizeTicks, type Scale } from "./scales";
import { useSize } from "./useSize";

export type Band = [number, number] | null;

/** A curve as drawn: density per ln d, or cumulative share, with its band. */
interface Drawn {
  size: number[];
  value: number[];
  low: number[];
  high: number[];
  peak: number;
}

interface Props {
  sample: Schemas["SampleDetail"];
  held: Band;
  hold: (band: Band) => void;
  method?: string;
  /** The curve as asked for; the sample's own until it is there. */
  distribution?: Schemas["DistributionView"];
  cumulative?: boolean;
  modes?: boolean;
  over?: Schemas["OverlayView"][];
  /** Dragging a cut; without it the cuts are not shown. */
  cut?: (which: "fines" | "boulders", um: number) => void;
}

const LEFT = 30;
const RIGHT = 40;
const HELD_LN = 0.09;

/** The size curve with the user's own grounds standing in order of size under it, on one log axis. */
export function GrainRuler({
  sample,
  held,
  hold,
  method,
  distribution,
  cumulative = false,
  modes = false,
  over = [],
  cut,
}: Props) {
  const [ref, { width, height }] = useSize();
  const svg = useRef<SVGSVGElement>(null);
  const band = useRef<SVGRectElement>(null);
  const m = sample.measurement;
  const top = Math.max(m.d90_um * 1.75, (sample.ruler.at(-1)?.diameter_um ?? 0) * 1.08);
  const x = useMemo(
    () =>
      log([Math.max(36, Math.min(60, m.resolution_limit_um * 0.75)), top], [LEFT, Math.max(width - RIGHT, LEFT + 50)]),
    [width, top, m.resolution_limit_um],
  );
  const base = Math.max(150, Math.round(height * (sample.ruler.length ? 0.56 : 0.8)));
  const drawn = useMemo(() => drawnOf(sample, distribution, cumulative), [sample, distribution, cumulative]);
  const marks = distribution ?? m;
  const bands = sample.windows.filter((w) => w.method !== "smooth-cone");

  function holdAt(clientX: number) {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return;
    const size = x.invert(clientX - box.left);
    hold([size * Math.exp(-HELD_LN), size * Math.exp(HELD_LN)]);
  }

  function onKey(event: React.KeyboardEvent) {
    const now = held ? Math.sqrt(held[0] * held[1]) : m.d50_um;
    const step = event.key === "ArrowRight" ? HELD_LN : event.key === "ArrowLeft" ? -HELD_LN : 0;
    if (event.key === "Escape") hold(null);
    else if (step) {
      hold([now * Math.exp(step - HELD_LN), now * Math.exp(step + HELD_LN)]);
      event.preventDefault();
    }
  }

  return (
    <div ref={ref} style={{ height: "100%", minHeight: 300 }}>
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={Math.max(height, 300)}
          role="group"
          aria-label="Sizes of the grounds"
          style={{ display: "block", cursor: "crosshair", touchAction: "pan-y" }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            band.current?.focus({ preventScroll: true });
            holdAt(e.clientX);
          }}
          onPointerMove={(e) => e.buttons === 1 && holdAt(e.clientX)}
          onDoubleClick={() => hold(null)}
        >
          <rect
            ref={band}
            width={width}
            height={Math.max(height, 300)}
            fill="transparent"
            role="slider"
            tabIndex={0}
            aria-label="Size curve: arrow keys hold a band of sizes, whose grounds are lit on the photo"
            aria-valuenow={Math.round(held ? Math.sqrt(held[0] * held[1]) : m.d50_um)}
            aria-valuetext={held ? `${whole(held[0])} to ${whole(held[1])} µm` : "none held"}
            onKeyDown={onKey}
          />
          <defs>
            <pattern id="unseen" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <path d="M0 0V7" stroke="var(--ink-3)" strokeWidth="1" opacity="0.55" />
            </pattern>
          </defs>
          <Windows windows={bands} x={x} base={base} method={method} d50={m.d50_um} />
          {held && (
            <rect
              x={x(held[0])}
              width={Math.max(3, x(held[1]) - x(held[0]))}
              y={58}
              height={base - 58}
              fill="var(--persimmon-wash)"
              opacity="0.8"
            />
          )}
          {!cumulative &&
            over.map((o, i) => <Overlay key={o.sample_id} overlay={o} order={i} x={x} base={base} peak={drawn.peak} />)}
          <CurveDrawn drawn={drawn} limit={m.resolution_limit_um} x={x} base={base} seen={sample.source === "photo"} />
          {modes && !cumulative && distribution && distribution.modes.length > 1 && (
            <Modes of={distribution} x={x} base={base} peak={drawn.peak} markX={x(marks.d50_um)} />
          )}
          <Marks figures={marks} drawn={drawn} x={x} base={base} />
          {cut && distribution && <Cuts of={distribution} x={x} base={base} cut={cut} width={width} />}
          <Grounds ruler={sample.ruler} x={x} top={base + 34} height={Math.max(height, 300) - base - 62} held={held} />
          <text x={LEFT} y={Math.max(height, 300) - 12} fontSize="13" style={{ fill: "var(--ink-2)" }}>
            {sample.ruler.length
              ? "Your own grounds, cut from the photo, each at its size."
              : "Known only by its classes: there are no grounds to show."}
            {!sample.ruler.length || width < HINT_FROM_PX
              ? ""
              : held
                ? " The persimmon band is the one you are holding; its grounds are lit above."
                : " Press on the curve to light a band of sizes on the photo."}
          </text>
        </svg>
      )}
    </div>
  );
}

/** Room for the line under the chart with its hint. */
const HINT_FROM_PX = 620;
const LETTER_PX = 6.6; // of the small type, on average
const STRIP_TOP = 10;
const STRIP_ROW = 17;
/** Room that a window's name needs beside its bar. */
const NAME_PX = 200;

/** The windows of the methods nearest to the grind, a row each above the curve; the chosen method's reaches down through it. */
function Windows({
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
              style={{ fill: "var(--celadon-text)" }}
            >
              {w.label}
            </text>
          </g>
        );
      })}
    </g>
  );
}

function drawnOf(
  sample: Schemas["SampleDetail"],
  d: Schemas["DistributionView"] | undefined,
  cumulative: boolean,
): Drawn {
  if (d && cumulative)
    return { size: d.size_um, value: d.cumulative, low: d.cumulative_low, high: d.cumulative_high, peak: 1 };
  const c = d ?? sample.curve;
  return { size: c.size_um, value: c.density, low: c.low, high: c.high, peak: Math.max(...c.high, 0.01) };
}

const heightOf = (value: number, peak: number, base: number) => base - (value / peak) * (base - 84);

/** Points of a curve that lie on the axis, from a size on. */
function along(size: number[], values: number[], x: Scale, base: number, peak: number, from = 0): [number, number][] {
  const points: [number, number][] = [];
  size.forEach((s, i) => {
    if (s >= Math.max(from, ends(x)[0]) && s <= ends(x)[1]) points.push([x(s), heightOf(values[i] ?? 0, peak, base)]);
  });
  return points;
}

function CurveDrawn({
  drawn,
  limit,
  x,
  base,
  seen,
}: {
  drawn: Drawn;
  limit: number;
  x: Scale;
  base: number;
  seen: boolean;
}) {
  const at = (values: number[]) => along(drawn.size, values, x, base, drawn.peak, limit);
  const band = line(at(drawn.high)) + "L" + line(at(drawn.low).reverse()).slice(1) + "Z";
  return (
    <g>
      <path d={band} fill="var(--band)" />
      <path d={line(at(drawn.value))} fill="none" stroke="var(--ink)" strokeWidth="2.2" strokeLinejoin="round" />
      {seen && (
        <>
          <rect
            x={x(ends(x)[0])}
            y={base - 34}
            width={Math.max(0, x(limit) - x(ends(x)[0]))}
            height={34}
            fill="url(#unseen)"
          />
          <text x={x(ends(x)[0]) + 2} y={base - 42} fontSize="12.5" style={{ fill: "var(--ink-2)" }}>
            not seen below {whole(limit)} µm
          </text>
        </>
      )}
      <path className="axis" d={`M${LEFT} ${base}H${x(ends(x)[1])}`} />
      {sizeTicks(x).map((t) => (
        <g key={t}>
          <path className="axis" d={`M${x(t)} ${base}v5`} strokeWidth="1" />
          <text className="tick" x={x(t)} y={base + 19} textAnchor="middle">
            {t}
          </text>
        </g>
      ))}
    </g>
  );
}

const DASHES = ["7 4", "2 4", "9 3 2 3"];
const HUES = ["var(--water)", "var(--coffee)", "var(--celadon-text)"];

function Overlay({
  overlay,
  order,
  x,
  base,
  peak,
}: {
  overlay: Schemas["OverlayView"];
  order: number;
  x: Scale;
  base: number;
  peak: number;
}) {
  const { size_um, density } = overlay.curve;
  const y = 86 + 18 * order;
  const look = { stroke: HUES[order], strokeDasharray: DASHES[order], fill: "none" };
  return (
    <g>
      <path d={line(along(size_um, density, x, base, peak))} strokeWidth="1.8" {...look} />
      <path d={`M${LEFT} ${y}h22`} strokeWidth="1.8" {...look} />
      <text x={LEFT + 28} y={y + 4} fontSize="12.5" style={{ fill: HUES[order] }}>
        {overlay.label}, D50 {whole(overlay.d50_um)} µm
      </text>
    </g>
  );
}

function Modes({
  of,
  x,
  base,
  peak,
  markX,
}: {
  of: Schemas["DistributionView"];
  x: Scale;
  base: number;
  peak: number;
  markX: number;
}) {
  const modes = of.modes.map((m) => `${Math.round(100 * m.share)} % at ${Math.round(m.median_um)}`).join(", ");
  const words = `two modes: ${modes} µm`;
  // On a narrow chart the words would reach the mark of D50: they go below its label.
  const y = LEFT + 28 + LETTER_PX * words.length > markX ? 94 : 70;
  return (
    <g>
      {of.modes.map((m) => (
        <path
          key={m.median_um}
          d={line(along(of.size_um, m.density, x, base, peak))}
          fill="none"
          stroke="var(--persimmon-text)"
          strokeWidth="1.3"
          strokeDasharray="4 3"
        />
      ))}
      <path d={`M${LEFT} ${y - 4}h22`} stroke="var(--persimmon-text)" strokeWidth="1.3" strokeDasharray="4 3" />
      <text x={LEFT + 28} y={y} fontSize="12.5" style={{ fill: "var(--persimmon-text)" }}>
        {words}
      </text>
    </g>
  );
}

function Marks({
  figures,
  drawn,
  x,
  base,
}: {
  figures: { d10_um: number; d50_um: number; d90_um: number };
  drawn: Drawn;
  x: Scale;
  base: number;
}) {
  const heightAt = (d: number) =>
    heightOf(
      drawn.value[
        Math.max(
          drawn.size.findIndex((s) => s >= d),
          0,
        )
      ] ?? 0,
      drawn.peak,
      base,
    );
  const tail = (name: string, d: number, side: 1 | -1) => {
    const y = Math.min(heightAt(d) - 16, base - 46);
    return (
      <g>
        <path d={`M${x(d)} ${y + 6}V${base}`} stroke="var(--ink)" strokeDasharray="3 3" fill="none" />
        <text x={x(d) + 6 * side} y={y + 4} textAnchor={side === 1 ? "start" : "end"} className="figure" fontSize="13">
          {name} {Math.round(d)}
        </text>
      </g>
    );
  };
  return (
    <g>
      {tail("D10", figures.d10_um, -1)}
      {tail("D90", figures.d90_um, 1)}
      <path d={`M${x(figures.d50_um)} 66V${base}`} stroke="var(--ink)" strokeWidth="2" fill="none" />
      <text x={x(figures.d50_um) + 7} y={72} fontSize="14" fontWeight="600" className="figure">
        D50 {Math.round(figures.d50_um)}
      </text>
    </g>
  );
}

/** The fines' and the boulders' cut: small flags on the axis, to drag or to move with the arrow keys. */
function Cuts({
  of,
  x,
  base,
  cut,
  width,
}: {
  of: Schemas["DistributionView"];
  x: Scale;
  base: number;
  cut: NonNullable<Props["cut"]>;
  width: number;
}) {
  const flag = (which: "fines" | "boulders", um: number, share: number | null | undefined, side: 1 | -1) => {
    const words = share == null ? "not seen" : `${(100 * share).toFixed(1)} %`;
    const label = `${which === "fines" ? "under" : "over"} ${Math.round(um)}: ${words}`;
    // Where a label would run out of the chart it stands as far inside as it must.
    const room = side === 1 ? width - x(um) : x(um);
    const back = Math.max(0, 18 + LETTER_PX * label.length - room);
    const to = (e: React.PointerEvent<SVGGElement>) => {
      const box = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
      cut(which, Math.round(x.invert(e.clientX - box.left)));
    };
    return (
      <g
        transform={`translate(${x(um)} ${base})`}
        tabIndex={0}
        role="slider"
        data-testid={`cut-${which}`}
        aria-label={which === "fines" ? "Fines are below" : "Boulders are above"}
        aria-valuenow={Math.round(um)}
        aria-valuetext={`${Math.round(um)} µm: ${words}`}
        style={{ cursor: "ew-resize" }}
        onPointerDown={(e) => {
          e.stopPropagation();
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          if (e.buttons === 1) {
            e.stopPropagation();
            to(e);
          }
        }}
        onKeyDown={(e) => {
          const step = e.key === "ArrowRight" ? 1.02 : e.key === "ArrowLeft" ? 1 / 1.02 : 0;
          if (!step) return;
          e.stopPropagation();
          e.preventDefault();
          cut(which, Math.round(um * step));
        }}
      >
        <rect x={-22} y={-32} width={44} height={44} fill="transparent" />
        <path d="M0 0V-26" stroke="var(--ochre-text)" strokeWidth="1.6" />
        <path d={`M0-26h${14 * side}l${-4 * side} 5 ${4 * side} 5H0Z`} fill="var(--ochre-text)" />
        <text
          x={(18 - back) * side}
          y={-16}
          textAnchor={side === 1 ? "start" : "end"}
          fontSize="12.5"
          style={{
            fill: "var(--ochre-text)",
            stroke: "var(--sheet)",
            strokeWidth: 4,
            paintOrder: "stroke",
            strokeLinejoin: "round",
          }}
        >
          {label}
        </text>
      </g>
    );
  };
  return (
    <g>
      {flag("fines", of.fines_um, of.fines_share, -1)}
      {flag("boulders", of.boulders_um, of.boulder_share, 1)}
    </g>
  );
}

interface Placed {
  d: string;
  x: number;
  y: number;
  size: number;
}

/** Grounds drawn to one scale, each at its size on the axis, staggered so that none overlaps another. */
function Grounds({
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
