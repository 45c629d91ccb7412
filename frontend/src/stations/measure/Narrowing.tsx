import type { Schemas } from "../../api/client";
import { WORDS } from "./words";

const TEXT = WORDS.narrowing;

const WIDTH = 248,
  ROW = 22,
  LEFT = 62,
  RIGHT = 8;

/** Whether to shoot again: it is narrow enough, the light is what is left, or one more photo helps. */
export function nextPhotoWords(more: Schemas["MorePhotosView"]): string {
  if (more.enough) return "Enough.";
  if (more.limited_by_light) return TEXT.morePhotosInThisLightNoLonger;
  return TEXT.shakeTheCardSpreadAgainShoot;
}

/** How the interval within one light narrowed with every photo, against what one step of the grinder moves the median. */
export function Narrowing({ sample }: { sample: Schemas["SampleDetail"] }) {
  const { narrowing, step_share: step } = sample.more_photos;
  if (narrowing.length < 2) return null;
  const d50 = sample.d50_um;
  const band = step == null ? null : [d50 * (1 - step / 2), d50 * (1 + step / 2)];
  const all = [...narrowing.flatMap((n) => n.ci95_um), ...(band ?? [])];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = (um: number) => LEFT + ((um - low) / (high - low || 1)) * (WIDTH - LEFT - RIGHT);
  const height = narrowing.length * ROW + (band ? 22 : 4);
  return (
    <figure className="narrowing" data-testid="narrowing">
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label={`Median by photos: ${narrowing
          .map((n) => `${n.photos}, ${Math.round(n.ci95_um[0]!)} to ${Math.round(n.ci95_um[1]!)} µm`)
          .join("; ")}`}
      >
        {band && (
          <>
            <rect
              x={x(band[0]!)}
              width={x(band[1]!) - x(band[0]!)}
              height={narrowing.length * ROW}
              fill="var(--celadon-wash)"
            />
            <text
              x={Math.min(WIDTH - 62, Math.max(62, x(d50)))}
              y={height - 6}
              textAnchor="middle"
              fontSize="12"
              className="in-celadon"
            >
              {TEXT.oneStepOfTheGrinder}
            </text>
          </>
        )}
        {narrowing.map((n, i) => {
          const last = i === narrowing.length - 1;
          const y = i * ROW + ROW / 2;
          const ink = last ? "var(--ink)" : "var(--ink-3)";
          return (
            <g key={n.photos}>
              <text x="0" y={y + 4} fontSize="12" className={last ? "in-ink" : "in-ink-2"}>
                {n.photos === 1 ? TEXT.n1Photo : TEXT.photos(n.photos)}
              </text>
              <path d={`M${x(n.ci95_um[0]!)} ${y}H${x(n.ci95_um[1]!)}`} stroke={ink} strokeWidth="2.4" />
              <circle cx={x(n.d50_um)} cy={y} r="4.5" fill={last ? "var(--persimmon)" : ink} />
            </g>
          );
        })}
      </svg>
      <figcaption className="quiet">
        {nextPhotoWords(sample.more_photos)} {sample.more_photos.now}
      </figcaption>
    </figure>
  );
}
