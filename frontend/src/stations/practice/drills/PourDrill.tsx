import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router-dom";
import type { Schemas } from "../../../api/client";
import { useDrillWrites, usePourCurves } from "../../../api/practice";
import { useStationActions } from "../../../app/actions";
import { linear, line } from "../../../charts/scales";
import { useSize } from "../../../charts/useSize";
import { ChooseFile } from "../../../ui/ChooseFile";
import { QueryBoundary, Trouble } from "../../../ui/parts";
import { useSmall } from "../../../ui/useMedia";
import { PourAccuracy } from "../../../ui/PourAccuracy";
import { clock } from "../../../ui/words";
import { POUR_WORDS, WORDS } from "../words";
import { DrillMargin } from "./drillParts";
import { later, STILL, wantedAt, type Kettle } from "./kettle";
import { Choice } from "../../../ui/Choice";

const TEXT = WORDS.pourDrill;

type Curve = Schemas["PourCurve"];
type Reading = [number, number];
const TICK_MS = 50;
const KEY_TILT = 0.5 / 14;

/** Pour along a curve with the on-screen kettle, or judge a log of a real scale. */
export function PourDrill({ view }: { view: Schemas["DrillView"] }) {
  const curves = usePourCurves();
  const [name, setName] = useState("steady");
  const { pour } = useDrillWrites();
  const navigate = useNavigate();
  const curve = curves.data?.find((c) => c.name === name) ?? curves.data?.[0];
  const end = curve?.points.at(-1)?.[0] ?? 0;
  const { kettle, readings, elapsed, running, tilt, stop, reset } = useKettle(end, (all) =>
    pour.mutate({ curve: name, readings: all }),
  );
  function again() {
    pour.reset();
    reset();
  }
  useStationActions(TEXT.tiltToPourKeepTheLineInThe, [
    { key: "B", label: TEXT.allOfPractice, run: () => navigate("/practice") },
    pour.data || pour.error
      ? { key: "Space", label: TEXT.pourAgain, main: true, run: again }
      : { key: "Space", label: TEXT.stopHere, main: true, run: stop, disabled: !running },
  ]);
  const result = pour.data;
  return (
    <QueryBoundary query={curves}>
      <div className="station-page">
        <div className="thing pour-drill">
          <Choice
            label={TEXT.whatToPour}
            options={(curves.data ?? []).map((c) => ({ value: c.name, label: POUR_WORDS[c.name] ?? c.name }))}
            value={curve?.name}
            disabled={running}
            choose={(chosen) => {
              setName(chosen);
              again();
            }}
          />
          {curve && <PourChart curve={curve} readings={(result?.readings as Reading[]) ?? readings} />}
          <div className="kettle-row">
            <KettlePad kettle={kettle} tilt={tilt} disabled={Boolean(result)} />
            <div>
              <div className="pour-huge figure" data-testid="poured">
                {kettle.pouredG.toFixed(0)} <span className="unit">g</span>
              </div>
              <p className="quiet" aria-live="off">
                {curve && !result
                  ? TEXT.wantedNowGGS(
                      clock(elapsed),
                      wantedAt(curve.points, elapsed).toFixed(0),
                      kettle.rateGS.toFixed(1),
                    )
                  : ""}
              </p>
              <p className="drill-say" role="status">
                {result
                  ? TEXT.inTheBandOfTheTimeGOffOn(
                      Math.round(100 * result.in_band_share),
                      result.off_g.toFixed(0),
                      result.rate_g_s.toFixed(1),
                      result.rate_sd_g_s.toFixed(1),
                    )
                  : running
                    ? ""
                    : TEXT.pressAndDragDownInTheKettle}
              </p>
            </div>
          </div>
          {pour.error != null && <Trouble error={pour.error} />}
          <p className="quiet">
            {TEXT.pouredOnARealScale}{" "}
            <ChooseFile
              accept=".csv,text/csv"
              testId="pour-log"
              choose={(file) => void file?.text().then((log) => pour.mutate({ curve: name, log }))}
            >
              {TEXT.judgeItsLog}
            </ChooseFile>{" "}
            {TEXT.csvWithTimeSAndPouredG}
          </p>
        </div>
        <DrillMargin view={view}>
          {result && (
            <p className="drill-verdict" role="status" data-well={result.score >= 70}>
              <strong className="figure" data-testid="score">
                {result.score}
              </strong>{" "}
              {TEXT.of100}
            </p>
          )}
          {result?.accuracy && <PourAccuracy accuracy={result.accuracy} from="scale" />}
        </DrillMargin>
      </div>
    </QueryBoundary>
  );
}

/** The kettle over time: it starts with the first tilt, and is over at the end of the curve. */
function useKettle(endS: number, over: (readings: Reading[]) => void) {
  const [kettle, setKettle] = useState<Kettle>(STILL);
  const [running, setRunning] = useState(false);
  const [elapsed, setElapsed] = useState(0);
  const now = useRef<Kettle>(STILL);
  const readings = useRef<Reading[]>([]);
  const started = useRef(0);
  const finish = useRef(over);
  finish.current = over;
  useEffect(() => {
    if (!running) return;
    let last = performance.now();
    const timer = setInterval(() => {
      const at = performance.now();
      now.current = later(now.current, (at - last) / 1000);
      last = at;
      const t = (at - started.current) / 1000;
      readings.current = [...readings.current, [t, now.current.pouredG]];
      setElapsed(Math.min(t, endS));
      setKettle(now.current);
      if (t >= endS) {
        setRunning(false);
        finish.current(readings.current);
      }
    }, TICK_MS);
    return () => clearInterval(timer);
  }, [running, endS]);
  return {
    kettle,
    elapsed,
    running,
    readings: readings.current,
    tilt(tilt: number) {
      now.current = { ...now.current, tilt };
      setKettle(now.current);
      if (tilt > 0 && !running && elapsed === 0) {
        started.current = performance.now();
        readings.current = [[0, 0]];
        setRunning(true);
      }
    },
    stop() {
      if (!running) return;
      setRunning(false);
      finish.current(readings.current);
    },
    reset() {
      now.current = STILL;
      readings.current = [];
      setKettle(STILL);
      setElapsed(0);
      setRunning(false);
    },
  };
}

/** Where the kettle is held: further down tilts it more. */
function KettlePad({ kettle, tilt, disabled }: { kettle: Kettle; tilt: (t: number) => void; disabled: boolean }) {
  const angle = 55 * kettle.tilt;
  return (
    <svg
      className="kettle"
      width="190"
      height="170"
      viewBox="0 0 190 170"
      role="slider"
      tabIndex={0}
      aria-label={TEXT.kettleTilt}
      aria-disabled={disabled}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * kettle.tilt)}
      onPointerDown={(e) => {
        if (disabled) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        tilt(tiltAt(e));
      }}
      onPointerMove={(e) => !disabled && e.buttons === 1 && tilt(tiltAt(e))}
      onPointerUp={() => !disabled && tilt(0)}
      onPointerCancel={() => !disabled && tilt(0)}
      onKeyDown={(e) => {
        const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1, PageDown: 4, PageUp: -4 }[e.key];
        if (by === undefined && e.key !== "Home") return;
        e.preventDefault();
        e.stopPropagation();
        if (!disabled) tilt(by === undefined ? 0 : Math.min(1, Math.max(0, kettle.tilt + by * KEY_TILT * 2)));
      }}
    >
      <rect x="0.5" y="0.5" width="189" height="169" rx="12" fill="var(--slip)" stroke="var(--hairline)" />
      <g transform={`rotate(${-angle} 110 84)`} fill="none" stroke="var(--ink)" strokeWidth="3" strokeLinejoin="round">
        <path d="M82 54h56l10 62a6 6 0 0 1-6 7H78a6 6 0 0 1-6-7Z" fill="var(--sheet)" />
        <path d="M90 54c0-12 40-12 40 0M146 66c26 2 26 44 6 46M74 104C46 100 56 66 30 60" />
      </g>
      {kettle.rateGS > 0.2 && (
        <path
          d="M34 96V166"
          stroke="var(--water)"
          strokeWidth={1 + kettle.rateGS / 2.2}
          strokeLinecap="round"
          strokeDasharray={kettle.rateGS < 1.5 ? "2 7" : undefined}
        />
      )}
    </svg>
  );
}

function tiltAt(e: React.PointerEvent<SVGSVGElement>): number {
  const box = e.currentTarget.getBoundingClientRect();
  return Math.min(1, Math.max(0.02, (e.clientY - box.top) / box.height));
}

/** The wanted weight with its band, and what was poured. */
function PourChart({ curve, readings }: { curve: Curve; readings: Reading[] }) {
  const [ref, { width }] = useSize();
  const height = useSmall() ? 160 : 250;
  const [endS, endG] = curve.points.at(-1)!;
  const x = linear([0, endS!], [44, Math.max(120, width - 16)]);
  const y = linear([0, 1.12 * endG!], [height - 28, 12]);
  const half = (g: number) => Math.max(curve.band_g ?? 5, (curve.band_share ?? 0.04) * g);
  const upper = curve.points.map(([t, g]) => [x(t!), y(g! + half(g!))] as [number, number]);
  const lower = curve.points.map(([t, g]) => [x(t!), y(Math.max(0, g! - half(g!)))] as [number, number]);
  return (
    <div ref={ref}>
      <svg width={width} height={height} role="img" aria-label={TEXT.wantedWeightWithItsBandAnd}>
        <path d={`${line([...upper, ...lower.reverse()])}Z`} fill="var(--celadon-wash)" />
        <path
          d={line(curve.points.map(([t, g]) => [x(t!), y(g!)]))}
          fill="none"
          stroke="var(--celadon)"
          strokeWidth="1.5"
          strokeDasharray="5 4"
        />
        {readings.length > 1 && (
          <path
            d={line(readings.filter(([t]) => t <= endS!).map(([t, g]) => [x(t), y(g)]))}
            fill="none"
            stroke="var(--water)"
            strokeWidth="2.6"
          />
        )}
        <path className="axis" d={`M44 ${height - 28}H${width - 16}M44 12V${height - 28}`} />
        {x.ticks(width < 420 ? 4 : 8).map((t) => (
          <text key={t} className="tick" x={x(t)} y={height - 8} textAnchor="middle">
            {clock(t)}
          </text>
        ))}
        {y.ticks(4).map((g) => (
          <text key={g} className="tick" x={36} y={y(g) + 4} textAnchor="end">
            {g}
          </text>
        ))}
      </svg>
    </div>
  );
}
