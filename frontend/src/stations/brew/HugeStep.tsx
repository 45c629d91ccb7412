import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { clock } from "../../ui/words";
import { useUnits } from "../../ui/useUnits";
import type { Present } from "./present";
import type { Heard } from "./useLiveBrew";
import { cssVariables } from "../../ui/cssVariables";
import { WORDS } from "./words";

const TEXT = WORDS.hugeStep;

/** The one huge thing, readable from two metres, with what the scale shows under it and what comes next. */
export function HugeStep({
  now,
  elapsed,
  brew,
  step,
  heard,
  tap,
  children,
}: {
  now: Present;
  elapsed: number;
  brew: Schemas["BrewView"];
  step: Schemas["LiveStep"] | undefined;
  heard: Heard;
  /** Nothing to tap where the brew is only watched. */
  tap?: () => void;
  children?: ReactNode;
}) {
  const { mass, massFigure, rateFigure, rateUnit } = useUnits();
  const left = now.until === null ? null : now.until - elapsed;
  const r = heard.reading;
  const weighed = brew.scale?.connected && !r?.silent && heard.weight_g.length > 0;
  const weight = heard.weight_g.at(-1) ?? 0;
  const pouring = step?.kind === "pour" && now.held;
  return (
    <div className="brew-words" aria-live="off">
      <div className="brew-above" data-testid="brew-above">
        {now.above}
      </div>
      <button
        className={`brew-huge figure${now.held ? " held" : ""}${now.huge.length > 5 ? " word" : ""}`}
        data-testid="brew-huge"
        disabled={!tap}
        onClick={tap}
        aria-label={`${now.above} ${now.huge} ${now.unit ?? ""}`}
      >
        {now.huge}
        {now.unit && <span>{now.unit}</span>}
      </button>
      <div className="brew-line" data-testid="brew-line">
        {!now.held && left !== null && left > 0 && step?.kind === "pour" ? (
          <span className="brew-count">
            {TEXT.inWord} <b className="figure">{clock(Math.ceil(left))}</b>
          </span>
        ) : step?.kind === "add" ? null : weighed && brew.scale?.standing === "brewer" ? (
          <>
            <b className="figure">{mass(weight)}</b> {TEXT.now}
            {pouring && r?.rate_g_s != null && (
              <>
                , <b className="figure">{rateFigure(Math.max(0, r.rate_g_s))}</b> {rateUnit}
                {r.pace && `, ${r.pace}`}
              </>
            )}
          </>
        ) : weighed ? (
          <>
            <b className="figure">{mass(weight)}</b> {TEXT.inTheCup}{" "}
            <b className="figure">{massFigure(r?.expected_g ?? 0)}</b> {TEXT.byThePlan}
          </>
        ) : pouring && left !== null && step.drops_per_min != null ? (
          <>
            <b className="figure">{step.drops_per_min}</b> {TEXT.dropsAMinute}
          </>
        ) : pouring && left !== null && step.mark == null ? (
          <>
            <b className="figure">{step.rate_g_s != null && rateFigure(step.rate_g_s)}</b> {rateUnit},{" "}
            <b className="figure">{clock(Math.max(0, Math.ceil(left)))}</b> {TEXT.more}
          </>
        ) : (
          now.below
        )}
      </div>
      {now.late && (
        <p className="brew-late" role="status">
          <b>{TEXT.late(clock(now.late.s))}</b> {now.late.words}
        </p>
      )}
      {children}
      {pouring && step.mark == null && (
        <PourBar
          step={step}
          weight={weighed && brew.scale?.standing === "brewer" ? weight : null}
          expected={brew.scale?.standing === "cup" ? null : (r?.expected_g ?? null)}
        />
      )}
      <div className="brew-next" data-testid="brew-next">
        {now.next}
      </div>
    </div>
  );
}

/** How far the pour is: by the scale with the plan as a mark, else by the plan alone. */
function PourBar({
  step,
  weight,
  expected: due,
}: {
  step: Schemas["LiveStep"];
  weight: number | null;
  expected: number | null;
}) {
  const { mass, massFigure } = useUnits();
  const shown = weight ?? due;
  if (shown === null) return null;
  const from = (step.total_g ?? 0) - step.amount_g;
  const share = (g: number) => `${100 * Math.min(1, Math.max(0, (g - from) / step.amount_g))}%`;
  return (
    <div
      className="pour-bar"
      role="img"
      aria-label={TEXT.ofWord(massFigure(shown), mass(step.total_g ?? 0))}
      style={cssVariables({ "--poured": share(shown), "--due": due === null ? undefined : share(due) })}
    >
      <div className="poured" data-quiet={weight === null || undefined} />
      {weight !== null && due !== null && (
        <div className="due">
          <span>{TEXT.thePlan}</span>
        </div>
      )}
    </div>
  );
}
