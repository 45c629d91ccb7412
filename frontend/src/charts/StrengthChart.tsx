import type { Schemas } from "../api/client";
import { line, linear } from "./scales";
import { useSize } from "./useSize";
import { WORDS } from "./words";

const TEXT = WORDS.strengthChart;

interface Props {
  cup: Schemas["CupView"];
  target: string;
  /** The change being offered; its landing point is drawn. */
  move?: Schemas["MoveDocument"];
}

const CHARACTER_PX = 7.2;

/** Strength against extraction: the ratio's line, the target, the path so far, this cup, and where a change should land. */
export function StrengthChart({ cup, target, move }: Props) {
  const [ref, { width, height }] = useSize();
  const tall = Math.max(height, 280);
  const box = cup.targets.find((t) => t.name === target) ?? cup.targets[0]!;
  const [eyLow = 18, eyHigh = 22] = box.ey_percent,
    [tdsLow = 1.15, tdsHigh = 1.45] = box.tds_percent;
  const now = cup.advice.now;
  const measured = cup.advice.measured!.includes("tds_percent");
  const points = [now, ...cup.path, ...(move ? [move.after] : [])];
  const eys = points.map((p) => p.ey_percent),
    tdss = points.map((p) => p.tds_percent);
  const ey: [number, number] = [Math.floor(Math.min(14, ...eys) - 0.5), Math.ceil(Math.max(25, ...eys) + 0.5)];
  const tds: [number, number] = [
    Math.floor((Math.min(0.9, ...tdss) - 0.04) * 10) / 10,
    Math.ceil((Math.max(1.7, ...tdss) + 0.04) * 10) / 10,
  ];
  const x = linear(ey, [58, Math.max(width - 64, 140)]);
  const y = linear(tds, [tall - 52, 34]);
  const label = measured ? TEXT.thisCup : TEXT.thisCupEstimated;
  const nearAxis = x(now.ey_percent) - 12 - label.length * CHARACTER_PX < x(ey[0]);
  // Strength = extraction × dose / drink: a line through the origin, one for each ratio of drink to dose.
  const held = cup.ratio_drink;
  const slanted = (r: number) => {
    const at = (e: number) => e / r;
    const low = Math.max(ey[0], tds[0] * r),
      high = Math.min(ey[1], tds[1] * r);
    return high > low
      ? {
          d: line([
            [x(low), y(at(low))],
            [x(high), y(at(high))],
          ]),
          endX: x(high),
          endY: y(at(high)),
        }
      : null;
  };
  const own = slanted(held);
  const others = [held * 0.85, held * 0.93, held * 1.08].map((r) => ({ r, l: slanted(r) }));
  const noise = { ey: 0.7, tds: measured ? 0.03 : 0.12 };
  const same =
    !move ||
    (Math.abs(move.after.ey_percent - now.ey_percent) < 0.05 &&
      Math.abs(move.after.tds_percent - now.tds_percent) < 0.005);
  return (
    <div ref={ref} className="chart">
      {width > 0 && (
        <svg
          width={width}
          height={tall}
          className="block"
          role="img"
          aria-label={TEXT.thisCupStrengthExtraction(now.tds_percent.toFixed(2), now.ey_percent.toFixed(1), box.name)}
        >
          <defs>
            <clipPath id="plot">
              <rect x={x(ey[0])} y={y(tds[1])} width={x(ey[1]) - x(ey[0])} height={y(tds[0]) - y(tds[1])} />
            </clipPath>
          </defs>
          <rect
            x={x(eyLow)}
            width={x(eyHigh) - x(eyLow)}
            y={y(tdsHigh)}
            height={y(tdsLow) - y(tdsHigh)}
            fill="var(--celadon-wash)"
            rx="4"
          />
          <text x={x(eyHigh) - 8} y={y(tdsLow) - 9} textAnchor="end" fontSize="13" className="in-celadon">
            {TEXT.yourTarget}
          </text>
          {others.map(
            ({ r, l }) =>
              l && (
                <g key={r}>
                  <path d={l.d} className="hair" stroke="var(--ink-3)" opacity="0.7" />
                </g>
              ),
          )}
          {own && (
            <>
              <path d={own.d} stroke="var(--ink)" strokeWidth="1.6" />
              <text className="tick" x={own.endX + 6} y={own.endY + (own.endY < y(tds[1]) + 4 ? -6 : 4)}>
                1 : {held.toFixed(1)}
              </text>
            </>
          )}
          <path className="axis" d={`M${x(ey[0])} ${y(tds[1])}V${y(tds[0])}H${x(ey[1])}`} />
          {range(Math.ceil(tds[0] * 5) / 5, tds[1], 0.2).map((v) => (
            <text key={v} className="tick" x={x(ey[0]) - 9} y={y(v) + 4} textAnchor="end">
              {v.toFixed(1)}
            </text>
          ))}
          {range(Math.ceil(ey[0] / 2) * 2, ey[1], 2).map((v) => (
            <text key={v} className="tick" x={x(v)} y={y(tds[0]) + 20} textAnchor="middle">
              {v}
            </text>
          ))}
          <text x={12} y={18} fontSize="13" className="in-ink-2">
            {TEXT.strength}
          </text>
          <text x={x(ey[1])} y={y(tds[0]) + 40} textAnchor="end" fontSize="13" className="in-ink-2">
            {TEXT.ofTheCoffeeThatIsInTheCup}
          </text>
          <g clipPath="url(#plot)">
            {cup.path.length > 0 && (
              <path
                d={line([
                  ...cup.path.map((p) => [x(p.ey_percent), y(p.tds_percent)] as [number, number]),
                  [x(now.ey_percent), y(now.tds_percent)],
                ])}
                fill="none"
                stroke="var(--ink-3)"
                strokeWidth="1.5"
                strokeDasharray="2 4"
              />
            )}
            <ellipse
              cx={x(now.ey_percent)}
              cy={y(now.tds_percent)}
              rx={Math.abs(x(noise.ey) - x(0))}
              ry={Math.abs(y(noise.tds) - y(0))}
              fill="var(--ink)"
              opacity="0.12"
            />
          </g>
          {cup.path.map((p) => (
            <g key={p.number}>
              <circle
                cx={x(p.ey_percent)}
                cy={y(p.tds_percent)}
                r="5"
                fill="var(--sheet)"
                stroke="var(--ink-3)"
                strokeWidth="2"
              />
              <text x={x(p.ey_percent) + 9} y={y(p.tds_percent) + 15} fontSize="12" className="in-ink-2">
                {TEXT.slip(p.number)}
              </text>
            </g>
          ))}
          {move &&
            cup.advice.moves
              .filter(
                (m) =>
                  m !== move &&
                  Math.hypot(m.after.ey_percent - now.ey_percent, 10 * (m.after.tds_percent - now.tds_percent)) > 0.3,
              )
              .slice(0, 4)
              .map((m) => (
                <g key={m.kind + m.direction} opacity="0.75">
                  <title>{m.words}</title>
                  <path
                    d={line([
                      [x(now.ey_percent), y(now.tds_percent)],
                      [x(m.after.ey_percent), y(m.after.tds_percent)],
                    ])}
                    stroke="var(--ink-3)"
                    strokeWidth="1.2"
                  />
                  <circle
                    cx={x(m.after.ey_percent)}
                    cy={y(m.after.tds_percent)}
                    r="3.5"
                    fill="var(--sheet)"
                    stroke="var(--ink-3)"
                    strokeWidth="1.5"
                  />
                </g>
              ))}
          {!same && move && (
            <>
              <path
                d={line([
                  [x(now.ey_percent), y(now.tds_percent)],
                  [x(move.after.ey_percent), y(move.after.tds_percent)],
                ])}
                stroke="var(--persimmon)"
                strokeWidth="3"
              />
              <circle
                cx={x(move.after.ey_percent)}
                cy={y(move.after.tds_percent)}
                r="7.5"
                fill="var(--sheet)"
                stroke="var(--persimmon)"
                strokeWidth="3"
              />
            </>
          )}
          <circle cx={x(now.ey_percent)} cy={y(now.tds_percent)} r="6.5" fill="var(--ink)" />
          {/* To the left, where there is room before the axis. */}
          <text
            x={x(now.ey_percent) + (nearAxis ? 12 : -12)}
            y={y(now.tds_percent) + (nearAxis ? 20 : -12)}
            textAnchor={nearAxis ? "start" : "end"}
            fontSize="14"
          >
            {label}
          </text>
        </svg>
      )}
    </div>
  );
}

function range(from: number, to: number, step: number): number[] {
  return Array.from({ length: Math.floor((to - from) / step + 1e-6) + 1 }, (_, i) => from + i * step);
}
