import { memo } from "react";
import type { Schemas } from "../../api/client";
import { linear, line } from "../../charts/scales";
import { useSize } from "../../charts/useSize";
import { curve, Times } from "../../charts/timeAxis";
import { endingWords, type Ending } from "../../ui/steeps";
import { clock } from "../../ui/words";
import { useUnits } from "../../ui/useUnits";
import { WORDS } from "./words";

const TEXT = WORDS.brewTrace;

interface Props {
  prediction: Schemas["PredictionDocument"];
  /** How a steep ends; nothing for what drains. */
  ending?: Ending | null;
  elapsed: number | null;
  /** Readings so far, and which of the plan's two lines they belong to. */
  t_s: number[];
  weight_g: number[];
  standing: "brewer" | "cup" | null;
}

const LEFT = 50,
  RIGHT = 92,
  TOP = 16;

/**
 * The brew so far in the accent over what was planned: water poured, or what is in the cup; when the bed should be bare.
 * Drawn again when the time shown is another: readings are added to the lists in place.
 */
export const BrewTrace = memo(function BrewTrace({
  prediction,
  ending = null,
  elapsed,
  t_s,
  weight_g,
  standing,
}: Props) {
  const [ref, { width, height }] = useSize();
  const half = prediction.half_width95.drawdown_s ?? 0;
  const latest = Math.max(prediction.last_drip_s, prediction.drawdown_s + half, elapsed ?? 0);
  const unit = latest > 7200 ? 3600 : latest > 900 ? 300 : 30;
  const frame = { width, height, end: Math.ceil((latest * 1.02) / unit) * unit };
  const { x, y, bottom } = scalesOf(prediction, frame);
  const { mass } = useUnits();
  const seen: [number, number][] = [];
  const every = Math.max(1, Math.floor(t_s.length / 700));
  for (let i = 0; i < t_s.length; i += every) seen.push([x(t_s[i]!), Math.min(bottom, y(weight_g[i]!))]);
  const water = prediction.series.poured_g.at(-1) ?? 1;
  return (
    <div ref={ref} className="chart low">
      {width > 0 && (
        <svg
          width={width}
          height={height}
          className="block"
          role="img"
          aria-label={TEXT.plannedAtAbout(mass(water), doneOf(ending), clock(prediction.drawdown_s))}
        >
          <Planned prediction={prediction} ending={ending} standing={standing} {...frame} />
          {seen.length > 1 && (
            <path d={line(seen)} fill="none" stroke="var(--persimmon)" strokeWidth="2.6" strokeLinejoin="round" />
          )}
          {elapsed !== null && elapsed <= frame.end && (
            <path d={`M${x(elapsed)} ${TOP - 8}V${bottom}`} stroke="var(--persimmon)" strokeWidth="1.5" />
          )}
        </svg>
      )}
    </div>
  );
});

interface Frame {
  width: number;
  height: number;
  /** Seconds at the right end. */
  end: number;
}

function scalesOf(p: Schemas["PredictionDocument"], { width, height, end }: Frame) {
  const bottom = height - 30;
  return {
    x: linear([0, end], [LEFT, Math.max(width - RIGHT, LEFT + 60)]),
    y: linear([0, p.series.poured_g.at(-1) ?? 1], [bottom, TOP]),
    bottom,
  };
}

const doneOf = (ending: Ending | null) => (ending ? endingWords(ending).done : "bare");

/** What was planned; drawn once, while the brew over it is drawn again and again. */
const Planned = memo(function Planned({
  prediction: p,
  ending,
  standing,
  ...frame
}: Frame & { prediction: Props["prediction"]; ending: Ending | null; standing: Props["standing"] }) {
  const { end } = frame;
  const { x, y, bottom } = scalesOf(p, frame);
  const half = p.half_width95.drawdown_s ?? 0;
  const [low, high] = [Math.max(0, p.drawdown_s - half), Math.min(end, p.drawdown_s + half)];
  return (
    <>
      <rect x={x(low)} width={Math.max(0, x(high) - x(low))} y={bottom - 12} height={12} fill="var(--celadon-wash)" />
      <path d={`M${x(p.drawdown_s)} ${bottom - 12}v12`} stroke="var(--celadon)" strokeWidth="2" />
      <text
        x={Math.min(x(p.drawdown_s), x(end) - 40)}
        y={bottom - 18}
        textAnchor="middle"
        fontSize="13"
        className="in-celadon"
      >
        {doneOf(ending)} {clock(p.drawdown_s)}
      </text>
      <Times x={x} end={end} y={bottom} />
      <path
        d={curve(p.series.t_s, p.series.poured_g, x, y, end)}
        fill="none"
        stroke="var(--ink-2)"
        strokeWidth="1.8"
        strokeDasharray={standing === "cup" ? "2 4" : "6 4"}
      />
      <path
        d={curve(p.series.t_s, p.series.drink_g, x, y, end)}
        fill="none"
        stroke="var(--coffee)"
        strokeWidth="1.8"
        strokeDasharray={standing === "cup" ? "6 4" : "2 4"}
      />
      <text x={x(end) + 8} y={TOP + 5} fontSize="13" className="in-ink-2">
        {TEXT.toPour}
      </text>
      <text x={x(end) + 8} y={y(p.series.drink_g.at(-1) ?? 0) + 14} fontSize="13" className="in-coffee">
        {TEXT.inTheCup}
      </text>
    </>
  );
});
