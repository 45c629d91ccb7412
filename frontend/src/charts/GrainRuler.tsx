import { useRef, useMemo } from "react";
import type { Schemas } from "../api/client";
import { whole } from "../ui/words";
import { Overlay, CurveDrawn, Modes } from "./grainRuler/Curves";
import { Cuts } from "./grainRuler/Cuts";
import { Grounds } from "./grainRuler/Grounds";
import { Marks } from "./grainRuler/Marks";
import { Windows } from "./grainRuler/Windows";
import { drawnOf, LEFT, LETTER_PX, notSeenBelow, type Band } from "./grainRuler/curve";
import { log } from "./scales";
import { useSize } from "./useSize";
import { WORDS } from "./words";

const TEXT = WORDS.grainRuler;

export interface Props {
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
    <div ref={ref} className="chart">
      {width > 0 && (
        <svg
          ref={svg}
          width={width}
          height={Math.max(height, 300)}
          role="group"
          aria-label={TEXT.sizesOfTheGrounds}
          className="ruler"
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
            aria-label={TEXT.sizeCurveArrowKeysHoldABand}
            aria-valuenow={Math.round(held ? Math.sqrt(held[0] * held[1]) : m.d50_um)}
            aria-valuetext={held ? TEXT.toM(whole(held[0]), whole(held[1])) : TEXT.noneHeld}
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
          <Marks
            figures={marks}
            drawn={drawn}
            x={x}
            base={base}
            takenTo={sample.source === "photo" ? LEFT + LETTER_PX * notSeenBelow(m.resolution_limit_um).length : 0}
          />
          {cut && distribution && <Cuts of={distribution} x={x} base={base} cut={cut} width={width} />}
          <Grounds ruler={sample.ruler} x={x} top={base + 34} height={Math.max(height, 300) - base - 62} held={held} />
          <text x={LEFT} y={Math.max(height, 300) - 12} fontSize="13" className="in-ink-2">
            {sample.ruler.length ? TEXT.yourOwnGroundsCutFromThePhoto : TEXT.knownOnlyByItsClassesThere}
            {!sample.ruler.length || width < HINT_FROM_PX
              ? ""
              : held
                ? TEXT.thePersimmonBandIsTheOneYou
                : TEXT.pressOnTheCurveToLightABand}
          </text>
        </svg>
      )}
    </div>
  );
}

/** Room for the line under the chart with its hint. */
const HINT_FROM_PX = 620;
