import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import { settingText } from "../../ui/parts";
import { LEFT, type Grinder } from "./frame";
import { ends, type Scale } from "../scales";
import { WORDS } from "../words";

const TEXT = WORDS.rail;

type Mark = Schemas["RailMark"];

/** The position of a rail whose curve is nearest to a size. */
export function nearestMark(g: Grinder, size: number): Mark | undefined {
  let best: Mark | undefined;
  for (const m of g.marks)
    if (!best || Math.abs(Math.log(m.d50_um / size)) < Math.abs(Math.log(best.d50_um / size))) best = m;
  return best;
}

interface RailProps {
  grinder: Grinder;
  x: Scale;
  y: number;
  size: number;
  chosen: boolean;
  /** Set on the grinder that is at hand. */
  inUse?: Schemas["WorkbenchGrinder"];
  choose: () => void;
  /** Little room to the next rail. */
  tight: boolean;
  /** What the server found here, and where the hand turned this dial to: either goes before the nearest mark. */
  answer?: Schemas["WorkbenchTranslation"];
  turned?: string;
}

export function Rail({ grinder: g, x, y, size, chosen, inUse, choose, tight, answer, turned }: RailProps) {
  const marks = useMemo(() => g.marks.filter((m) => m.d50_um >= ends(x)[0] && m.d50_um <= ends(x)[1]), [g, x]);
  const at = g.marks.find((m) => m.setting === (turned ?? answer?.setting)) ?? nearestMark(g, size);
  const labels = useMemo(() => labelled(g, marks, x), [g, marks, x]);
  const ticks = useMemo(() => withRoom(marks, labels, x), [marks, labels, x]);
  const step = at ? Math.abs(Math.log((nearestOther(g, at)?.d50_um ?? at.d50_um) / at.d50_um)) : 0;
  const before = g.earlier.at(-1);
  const held = inUse && marks.find((m) => m.setting === inUse.setting);
  const inReach = at && (answer ? answer.reachable : Math.abs(Math.log(at.d50_um / size)) <= step * 0.75 + 0.01);
  // By flow, yield or shape the answer may lie aside of the line.
  const beside = at && answer && answer.match !== "median" ? x(at.d50_um) : x(size);
  return (
    <g>
      <g className="opens">
        <rect
          x={4}
          y={y - 34}
          width={LEFT - 30}
          height={58}
          fill="transparent"
          role="button"
          tabIndex={0}
          aria-label={TEXT.readThe(g.name, inUse ? settingText(inUse.setting ?? "") : null)}
          aria-pressed={chosen}
          onClick={choose}
          onKeyDown={(e) => {
            if (e.key === "Enter") choose();
          }}
        />
        <text x={24} y={y - 6} fontSize="17" fontWeight="600" pointerEvents="none">
          {g.name}
        </text>
        <text x={24} y={y + 13} fontSize="13" className="in-ink-2" pointerEvents="none">
          {inUse ? TEXT.atHand(settingText(inUse.setting ?? "")) : g.note || g.burrs}
        </text>
        {chosen && <path d={`M14 ${y - 20}v36`} stroke="var(--persimmon)" strokeWidth="3" strokeLinecap="round" />}
      </g>
      {g.no_curve ? (
        <text x={LEFT} y={y + 4} fontSize="14" className="in-ink-2">
          {g.no_curve}
        </text>
      ) : (
        <>
          <path className="axis" d={`M${LEFT} ${y}H${x(ends(x)[1])}`} strokeWidth="1.6" />
          {before && (
            <path className="old-era" d={ticksOf(before.marks, x, y + 3, 9)} stroke="var(--ink-3)" opacity="0.7">
              <title>{TEXT.before(before.label)}</title>
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
                <title>{TEXT.measuredAtM(p.setting, Math.round(p.d50_um))}</title>
              </circle>
            ))}
          {held && (
            <path className="at-hand" d={`M${x(held.d50_um)} ${y - 9}l-6 -10h12Z`} fill="var(--ink)">
              <title>{TEXT.atHand(settingText(held.setting))}</title>
            </path>
          )}
          {at && (
            <>
              <Blur mark={at} x={x} y={y + 4} />
              <text
                x={beside + 13}
                y={y + (tight ? 33 : 40)}
                fontSize={tight ? 21 : 24}
                fontWeight="600"
                className="in-persimmon in-words"
                data-testid={`rail-${g.name}`}
              >
                {inReach ? settingText(at.setting) : TEXT.notReached(settingText(at.setting))}
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
        <title>{TEXT.n95IntervalToM(Math.round(mark.low_um), Math.round(mark.high_um))}</title>
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
