import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { BrewerDrawing } from "./BrewerDrawing";
import { BrewTrace } from "./BrewTrace";
import { HugeStep } from "./HugeStep";
import type { Present } from "./present";
import type { Heard } from "./useLiveBrew";
import { WORDS } from "./words";

const TEXT = WORDS.brewStage;

interface Props {
  plan: Schemas["PlanView"];
  brew: Schemas["BrewView"];
  heard: Heard;
  elapsed: number;
  /** The step that is on. */
  at: number;
  now: Present;
  /** Nothing to tap where the brew is only watched. */
  tap?: () => void;
  children?: ReactNode;
}

/** The brewer, the one huge thing to do, and the trace under them. */
export function BrewStage({ plan, brew, heard, elapsed, at, now, tap, children }: Props) {
  const series = plan.prediction.series;
  const step = brew.steps[at];
  return (
    <div className="thing brew-thing">
      <div className="brew-stage">
        <BrewerDrawing
          vessel={plan.vessel}
          bedMm={plan.prediction.bed_depth_mm}
          levelMm={heard.reading?.level_mm ?? levelAt(series, elapsed)}
          targetMm={step?.kind === "pour" ? levelAt(series, step.ends_s) : null}
          highestMm={Math.max(...series.level_mm)}
          from={heard.reading?.level_from ?? TEXT.byThePlan}
          steeps={Boolean(plan.document.steep)}
        />
        <HugeStep now={now} elapsed={elapsed} brew={brew} step={step} heard={heard} tap={tap}>
          {children}
        </HugeStep>
      </div>
      <BrewTrace
        prediction={plan.prediction}
        ending={plan.document.steep?.ending}
        elapsed={drawnAt(elapsed, brew.speed)}
        t_s={heard.t_s}
        weight_g={heard.weight_g}
        standing={brew.scale?.standing ?? null}
      />
    </div>
  );
}

const TRACE_EVERY_S = 0.25;

/** The time that the trace shows: four steps a second, in which it moves by a pixel or so. */
const drawnAt = (elapsed: number, speed: number) => {
  const step = TRACE_EVERY_S * speed;
  return Math.floor(elapsed / step) * step;
};

function levelAt(series: Schemas["SeriesDocument"], t: number): number {
  const i = series.t_s.findIndex((s) => s >= t);
  return series.level_mm[i < 0 ? series.level_mm.length - 1 : i] ?? 0;
}
