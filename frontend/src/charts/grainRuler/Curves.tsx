import type { Schemas } from "../../api/client";
import { whole } from "../../ui/words";
import { line, ends, sizeTicks, type Scale } from "../scales";
import { along, LEFT, LETTER_PX, notSeenBelow, type Drawn } from "./curve";
import { WORDS } from "../words";

const TEXT = WORDS.curves;

export function CurveDrawn({
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
          <text x={x(ends(x)[0]) + 2} y={base - 42} fontSize="12.5" className="in-ink-2">
            {notSeenBelow(limit)}
          </text>
        </>
      )}
      <path className="axis" d={`M${LEFT} ${base}H${x(ends(x)[1])}`} />
      {sizeTicks(x).map((t) => (
        <g key={t}>
          <path className="axis" d={`M${x(t)} ${base}v5`} strokeWidth="1" />
          <text className="tick" x={x(t)} y={base + 19} textAnchor="middle">
            {whole(t)}
          </text>
        </g>
      ))}
    </g>
  );
}

const DASHES = ["7 4", "2 4", "9 3 2 3"];

const HUES = ["var(--water)", "var(--coffee)", "var(--celadon-text)"];
const TEXT_HUES = ["in-water", "in-coffee", "in-celadon"];

export function Overlay({
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
      <text x={LEFT + 28} y={y + 4} fontSize="12.5" className={TEXT_HUES[order]}>
        {overlay.label}, D50 {whole(overlay.d50_um)} µm
      </text>
    </g>
  );
}

export function Modes({
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
  const [first = "", second = ""] = of.modes.map((m) => `${Math.round(100 * m.share)} % at ${whole(m.median_um)}`);
  const parts = TEXT.twoModesM(first, second);
  const words = parts.join(" ");
  // On a narrow chart the words would reach the mark of D50 and the curve: each mode has a line.
  const tooWide = LEFT + 28 + LETTER_PX * words.length > markX;
  const y = 70;
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
      <text y={y} fontSize="12.5" className="in-persimmon">
        {(tooWide ? parts : [words]).map((part, k) => (
          <tspan key={k} x={LEFT + 28} dy={16 * Math.min(k, 1)}>
            {part}
          </tspan>
        ))}
      </text>
    </g>
  );
}
