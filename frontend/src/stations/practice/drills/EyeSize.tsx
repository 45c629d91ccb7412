import { useMemo, useState } from "react";
import { useSample } from "../../../api/samples";
import { log } from "../../../charts/scales";
import { useSize } from "../../../charts/useSize";
import { QueryBoundary } from "../../../ui/parts";
import { between, whole } from "../../../ui/words";
import { PhotoView } from "../../measure/PhotoView";
import { useDrillActions, type Asked } from "./drillParts";
import { WORDS } from "../words";

const TEXT = WORDS.eyeSize;

const LOW = 250,
  HIGH = 1400,
  START = 650;

/** Guess a photo's median by looking, then see it measured. */
export function EyeSize({ question, verdict, answer, next }: Asked) {
  const sample = useSample(question.sample_id ?? undefined);
  const [guess, setGuess] = useState(START);
  const d = sample.data;
  const right = verdict ? Number(verdict.right) : undefined;
  useDrillActions("size", verdict, next, [
    { key: "Space", label: TEXT.showWhatItIs, main: true, run: () => answer(guess.toFixed(0)) },
  ]);
  const off = Math.abs(verdict?.off_percent ?? 0);
  const known = d
    ? TEXT.wasMeasuredAtM(whole(right ?? 0), between(d.d50_ci95_um))
    : TEXT.isMByThePicturesTruth(whole(right ?? 0));
  return (
    <QueryBoundary query={{ ...sample, isPending: question.sample_id != null && sample.isPending }}>
      <div className="thing eye-size">
        {d ? (
          <PhotoView sample={d} index={0} held={null} pxPerMm={44} />
        ) : (
          question.window_mm != null && <Shipped question={question.id} windowMm={question.window_mm} />
        )}
        <div>
          <Guess guess={guess} setGuess={setGuess} truth={right} />
          <p className="drill-say">
            {TEXT.youSay} <b className="figure">{whole(guess)} µm</b>.{" "}
            {right !== undefined
              ? TEXT.itYouWere(known, off.toFixed(0), (verdict?.off_percent ?? 0) > 0)
              : TEXT.dragTheMarkToTheMedianByMass}
          </p>
        </div>
      </div>
    </QueryBoundary>
  );
}

const BAR_MM = 2;

/** A window of a shipped picture with a scale bar; these are simulated. */
function Shipped({ question, windowMm }: { question: number; windowMm: number }) {
  return (
    <div className="shipped">
      <div>
        <img src={`/api/drill-questions/${question}/pictures/0`} alt={TEXT.groundsSimulated} />
        <svg viewBox={`0 0 ${windowMm} ${windowMm}`} aria-hidden="true">
          <rect x={0.4} y={windowMm - 1.5} width={BAR_MM + 0.6} height={1.2} rx={0.2} fill="var(--slip)" />
          <path d={`M0.7 ${windowMm - 0.55}h${BAR_MM}`} stroke="var(--ink)" strokeWidth={0.12} />
          <text x={0.7 + BAR_MM / 2} y={windowMm - 0.75} textAnchor="middle" fontSize={0.6} fill="var(--ink)">
            {BAR_MM} mm
          </text>
        </svg>
      </div>
    </div>
  );
}

function Guess({ guess, setGuess, truth }: { guess: number; setGuess: (um: number) => void; truth?: number }) {
  const [ref, { width }] = useSize();
  const x = useMemo(() => log([LOW, HIGH], [40, Math.max(width - 40, 100)]), [width]);
  const clamp = (v: number) => Math.min(HIGH, Math.max(LOW, v));
  return (
    <div ref={ref}>
      <svg
        width={width}
        height={124}
        className="guess"
        role="slider"
        tabIndex={0}
        aria-label={TEXT.yourGuessOfTheMedian}
        aria-valuemin={LOW}
        aria-valuemax={HIGH}
        aria-valuenow={Math.round(guess)}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          setGuess(clamp(x.invert(e.clientX - e.currentTarget.getBoundingClientRect().left)));
        }}
        onPointerMove={(e) =>
          e.buttons === 1 && setGuess(clamp(x.invert(e.clientX - e.currentTarget.getBoundingClientRect().left)))
        }
        onKeyDown={(e) => {
          if (e.key === "ArrowRight") setGuess(clamp(guess * 1.02));
          if (e.key === "ArrowLeft") setGuess(clamp(guess / 1.02));
        }}
      >
        <path className="axis" d={`M40 80H${x(HIGH)}`} />
        {[300, 400, 500, 600, 800, 1000, 1200].map((t) => (
          <g key={t}>
            <path className="axis" d={`M${x(t)} 80v6`} />
            <text className="tick" x={x(t)} y={104} textAnchor="middle">
              {t}
            </text>
          </g>
        ))}
        {truth !== undefined && (
          <g>
            <path d={`M${x(truth)} 30V80`} stroke="var(--celadon)" strokeWidth="3" />
            <text x={x(truth)} y={22} textAnchor="middle" fontSize="13" className="in-celadon">
              {TEXT.measured}
            </text>
          </g>
        )}
        <path d={`M${x(guess)} 42V80`} stroke="var(--persimmon)" strokeWidth="2" />
        <circle cx={x(guess)} cy={38} r="8" fill="var(--persimmon)" />
      </svg>
    </div>
  );
}
