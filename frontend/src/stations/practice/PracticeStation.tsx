import { useMemo, useState } from "react";
import { useStationActions } from "../../app/actions";
import { useSample, useSamples } from "../../api/hooks";
import { log } from "../../charts/scales";
import { useSize } from "../../charts/useSize";
import { QueryBoundary } from "../../ui/parts";
import { between, whole } from "../../ui/words";
import { PhotoView } from "../measure/PhotoView";
import { Margin } from "../../ui/Margin";

const LOW = 250,
  HIGH = 1400;

/** Station 7: the eye drill. Guess a photo's median by looking, then see it measured. */
export default function PracticeStation() {
  const samples = useSamples();
  const [turn, setTurn] = useState(() => Math.floor(Math.random() * 1000));
  const [guess, setGuess] = useState(650);
  const [shown, setShown] = useState(false);
  const [misses, setMisses] = useState<number[]>([]);
  const pick = samples.data?.length ? samples.data[turn % samples.data.length] : undefined;
  const sample = useSample(pick?.id);
  const d = sample.data;
  const off = d ? Math.log(guess / d.d50_um) : 0;
  const mean = misses.length ? misses.reduce((a, b) => a + Math.abs(b), 0) / misses.length : null;
  function reveal() {
    setMisses([...misses, off]);
    setShown(true);
  }
  function next() {
    setTurn(turn + 1);
    setShown(false);
  }
  useStationActions(
    samples.data?.length ? "Eye drill, with your own photos" : "",
    d
      ? [{ key: "Space", label: shown ? "Next photo" : "Show what it is", main: true, run: shown ? next : reveal }]
      : [],
  );
  return (
    <QueryBoundary query={samples}>
      {samples.data?.length === 0 ? (
        <div className="empty">
          <h1>Train the eye</h1>
          <p>Measure a photo or two first; then guess their sizes here by looking.</p>
        </div>
      ) : (
        <div className="station-page">
          <div
            className="thing"
            style={{ display: "grid", gridTemplateRows: "minmax(0, 1fr) 150px", overflow: "hidden" }}
          >
            {d && <PhotoView key={d.id} sample={d} index={0} held={null} pxPerMm={44} />}
            <Guess guess={guess} setGuess={setGuess} truth={shown ? d?.d50_um : undefined} />
          </div>
          <Margin label="The guess">
            <h2>You say</h2>
            <div className="number">
              {whole(guess)}
              <span className="unit">µm</span>
            </div>
            <p className="said">
              {shown && d
                ? `It was measured at ${whole(d.d50_um)} µm, ${between(d.d50_ci95_um)}. You were ${Math.round(100 * Math.abs(Math.exp(off) - 1))} % ${off > 0 ? "over" : "under"}.`
                : "Drag the mark to the median by mass you see, then look. The photo's scale bar helps."}
            </p>
            <ul className="rows">
              <li>
                <span>Guessed so far</span>
                <span className="figure">{misses.length}</span>
              </li>
              <li>
                <span>Off by, on average</span>
                <span className="figure">{mean === null ? "–" : `${Math.round(100 * (Math.exp(mean) - 1))} %`}</span>
              </li>
            </ul>
            <p className="quiet" style={{ marginTop: 14 }}>
              Half the mass lies in fewer grounds than the eye thinks: most people guess small.
            </p>
          </Margin>
        </div>
      )}
    </QueryBoundary>
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
        height={150}
        role="slider"
        tabIndex={0}
        aria-label="Your guess of the median"
        aria-valuemin={LOW}
        aria-valuemax={HIGH}
        aria-valuenow={Math.round(guess)}
        style={{ display: "block", touchAction: "pan-y", cursor: "ew-resize" }}
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
        <path className="axis" d={`M40 90H${x(HIGH)}`} />
        {[300, 400, 500, 600, 800, 1000, 1200].map((t) => (
          <g key={t}>
            <path className="axis" d={`M${x(t)} 90v6`} />
            <text className="tick" x={x(t)} y={114} textAnchor="middle">
              {t}
            </text>
          </g>
        ))}
        {truth !== undefined && (
          <g>
            <path d={`M${x(truth)} 40V90`} stroke="var(--celadon)" strokeWidth="3" />
            <text x={x(truth)} y={32} textAnchor="middle" fontSize="13" style={{ fill: "var(--celadon-text)" }}>
              measured
            </text>
          </g>
        )}
        <path d={`M${x(guess)} 52V90`} stroke="var(--persimmon)" strokeWidth="2" />
        <circle cx={x(guess)} cy={48} r="8" fill="var(--persimmon)" />
      </svg>
    </div>
  );
}
