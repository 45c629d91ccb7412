import type { Schemas } from "../../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.brewerDrawing;

interface Props {
  vessel: Schemas["VesselView"];
  bedMm: number;
  levelMm: number;
  /** Where the water will stand when this pour is done. */
  targetMm: number | null;
  /** The highest that water stands by the plan. */
  highestMm: number;
  /** Whence the level is known; nothing before the first pour. */
  from: string | null;
  steeps: boolean;
}

const WIDTH = 236,
  HEIGHT = 300,
  PAD = 14;

/** The brewer cut open: bed, water over it, and the line to pour to; to scale. */
export function BrewerDrawing({ vessel, bedMm, levelMm, targetMm, highestMm, from, steeps }: Props) {
  const slope = Math.tan((vessel.half_angle_deg * Math.PI) / 180);
  const top = bedMm + Math.max(highestMm, levelMm, targetMm ?? 0) * 1.12 + 8;
  const radius = (mm: number) => vessel.bottom_mm / 2 + mm * slope;
  const scale = Math.min((HEIGHT - 2 * PAD) / top, (WIDTH - 2 * PAD) / (2 * radius(top)));
  const x = (mm: number, side: number) => WIDTH / 2 + side * radius(mm) * scale;
  const y = (mm: number) => HEIGHT - PAD - mm * scale;
  const between = (a: number, b: number) =>
    `M${x(a, -1)} ${y(a)}L${x(b, -1)} ${y(b)}L${x(b, 1)} ${y(b)}L${x(a, 1)} ${y(a)}Z`;
  const surface = bedMm + levelMm;
  const grounds = steeps ? TEXT.theGrounds : TEXT.theBed;
  return (
    <figure className="brewer-drawing">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={TEXT.waterMmOver(Math.round(levelMm), grounds)}>
        {levelMm > 0.3 && <path d={between(bedMm, surface)} fill="var(--water)" opacity="0.28" />}
        <path d={between(0, bedMm)} fill="var(--coffee)" />
        {levelMm > 0.3 && (
          <path d={`M${x(surface, -1)} ${y(surface)}H${x(surface, 1)}`} stroke="var(--water)" strokeWidth="3" />
        )}
        <path
          d={`M${x(top, -1)} ${y(top)}L${x(0, -1)} ${y(0)}H${x(0, 1)}L${x(top, 1)} ${y(top)}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="3"
          strokeLinejoin="round"
          strokeLinecap="round"
        />
        {targetMm !== null && targetMm > 0.5 && (
          <path
            d={`M${x(bedMm + targetMm, -1) + 3} ${y(bedMm + targetMm)}H${x(bedMm + targetMm, 1) - 3}`}
            stroke="var(--persimmon)"
            strokeWidth="3"
            strokeDasharray="9 6"
          />
        )}
      </svg>
      <figcaption>
        {from === null ? (
          <>
            {grounds}, <span className="figure">{Math.round(bedMm)}</span> {TEXT.mmDeep}
          </>
        ) : (
          <>
            {TEXT.water} <span className="figure">{Math.round(levelMm)}</span> {TEXT.mmOver} {grounds}, {from}
          </>
        )}
      </figcaption>
    </figure>
  );
}
