import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router-dom";
import { useStationActions } from "../../app/actions";
import type { Schemas } from "../../api/client";
import { useRefresh } from "../../api/hooks";
import { Sign, Trouble, troubleWith } from "../../ui/parts";
import { clock, endsByItself, isHot } from "../../ui/words";
import { BrewerDrawing } from "./BrewerDrawing";
import type { Hand } from "./useHand";
import { TasteAndAdd } from "./TasteAndAdd";
import { BrewTrace } from "./BrewTrace";
import { toggleFullScreen, useAwake, useCues, useMute, wakeSound } from "./cues";
import { Notes } from "./Notes";
import { presentOf, type Present } from "./present";
import { useElapsed, useLiveBrew, type Heard } from "./useLiveBrew";
import { TypedQuantity } from "../../ui/TypedQuantity";
import { useUnits } from "../../ui/useUnits";

type Step = Schemas["LiveStep"];
type Brew = Schemas["BrewView"];

/** A running brew: one huge thing to do now, what comes next, and the plan against what the scale shows. */
export function Brewing({ plan, brew: kept, hand }: { plan: Schemas["PlanView"]; brew: Brew; hand: Hand }) {
  const units = useUnits();
  const refresh = useRefresh();
  const navigate = useNavigate();
  const heard = useLiveBrew(kept.id, true, () => void refresh());
  const brew = heard.view && heard.view.version >= kept.version ? heard.view : kept;
  const elapsed = useElapsed(heard, brew.speed) ?? brew.elapsed_s ?? 0;
  const [mute, toggleMute] = useMute();
  const step = brew.steps[brew.now];
  const now = presentOf(brew.steps, brew.now, elapsed, units);
  const due =
    brew.steps.find(
      (s, i) =>
        i >= brew.now &&
        s.done_s == null &&
        s.at_s > 0 &&
        ["pour", "press", "open-valve", "stir", "swirl"].includes(s.kind),
    )?.at_s ?? null;
  const flash = useCues(due, heard.reading ? elapsed : null, mute);
  const awake = useAwake(true);
  const [added, setAdded] = useState<number | null>(null);

  function done() {
    wakeSound();
    if (!step) navigate("/cup");
    else {
      const amount = step.kind === "add" && added !== null ? plan.dilution_steps[added]?.added_g : null;
      void hand.tap("done", brew.now, `${now.tap}, ${clock(elapsed)}`, amount);
    }
  }
  const where = [
    brew.scale ? `${brew.scale.label}${brew.scale.connected ? "" : ", unplugged"}` : "timed by hand",
    brew.speed > 1 ? `${brew.speed} times as fast` : "",
  ]
    .filter(Boolean)
    .join(", ");
  useStationActions(where, [
    ...(plan.document.steep
      ? []
      : [{ key: "T", label: "It stalled", run: () => void hand.tap("stalled", undefined, "Noted: it stalled") }]),
    { key: "P", label: "Spilt", run: () => void hand.note("spilt", true) },
    ...(brew.scale
      ? [
          {
            key: "G",
            label: brew.scale.connected ? "Unplug scale" : "Plug scale in",
            run: () => void hand.plug(!brew.scale!.connected),
          },
        ]
      : []),
    { key: "M", label: mute ? "Sound on" : "Mute", run: toggleMute },
    { key: "F", label: "Full screen", run: toggleFullScreen },
    {
      key: "Space",
      main: true,
      label: now.tappable ? now.tap : `${now.tap}, ${clock(Math.max(0, (now.until ?? elapsed) - elapsed))}`,
      run: done,
      disabled: !now.tappable,
    },
  ]);
  const series = plan.prediction.series;
  const target = step?.kind === "pour" ? level(series, step.ends_s) : null;
  return (
    <div className={`station-page brewing${flash ? " flash" : ""}`}>
      <div className="thing brew-thing">
        <div className="brew-stage">
          <BrewerDrawing
            vessel={plan.vessel}
            bedMm={plan.prediction.bed_depth_mm}
            levelMm={heard.reading?.level_mm ?? level(series, elapsed)}
            targetMm={target}
            highestMm={Math.max(...series.level_mm)}
            from={heard.reading?.level_from ?? "by the plan"}
            steeps={Boolean(plan.document.steep)}
          />
          <Huge now={now} elapsed={elapsed} brew={brew} heard={heard} tap={done}>
            {step?.kind === "add" && <TasteAndAdd steps={plan.dilution_steps} added={added} set={setAdded} />}
          </Huge>
        </div>
        <BrewTrace
          prediction={plan.prediction}
          ending={plan.document.steep?.ending}
          elapsed={elapsed}
          t_s={heard.t_s}
          weight_g={heard.weight_g}
          standing={brew.scale?.standing ?? null}
        />
      </div>
      <aside className="margin" aria-label="The brew">
        <h2>Since the first pour</h2>
        <time className="number brew-clock" data-testid="clock" dateTime={`PT${elapsed.toFixed(1)}S`}>
          {clock(Math.floor(elapsed))}
        </time>
        <p className="said">
          the plan ends about{" "}
          {clock(
            brew.steps.find((s) => s.kind === "drain" || s.kind === "press")?.ends_s ?? plan.prediction.drawdown_s,
          )}
        </p>
        {brew.left_running && (
          <div className="trouble-box" style={{ marginBottom: 12 }}>
            <strong>It has run for {clock(elapsed)}.</strong> Go on, or{" "}
            <button className="link" onClick={() => void hand.close()}>
              close it
            </button>
            .
          </div>
        )}
        {hand.error != null && !troubleWith(hand.error, "dose_g") && <Trouble error={hand.error} />}
        {heard.lost && (
          <Watch title="The server is not heard" detail="The clock goes on; taps wait until it is back." />
        )}
        {heard.reading?.silent && (
          <Watch
            title={brew.scale?.connected ? "The scale is silent" : "The scale is unplugged"}
            detail="Tap when a pour ends; the brew goes on."
          />
        )}
        <StepList
          steps={brew.steps}
          now={brew.now}
          elapsed={elapsed}
          heard={heard}
          standing={heard.reading?.silent ? null : (brew.scale?.standing ?? null)}
        />
        {!plan.document.by_marks && <WeighedDose brew={brew} hand={hand} />}
        <Notes
          notes={brew.notes}
          note={(what, on) => void hand.note(what, on)}
          over={false}
          steeps={Boolean(plan.document.steep)}
        />
        {!awake && <p className="quiet">This browser cannot keep the screen awake.</p>}
        <p className="quiet" style={{ marginTop: 12 }}>
          {brew.stalled
            ? "Stalled: do not press on a plugged filter, it can spray."
            : isHot(plan.document)
              ? `Water at ${units.heat(plan.document.water_c ?? 93)} scalds. Keep a hand clear of the steam.`
              : "Clean vessels, clean hands; keep it cold once it is drawn off."}
        </p>
      </aside>
    </div>
  );
}

const level = (series: Schemas["SeriesDocument"], t: number) => {
  const i = series.t_s.findIndex((s) => s >= t);
  return series.level_mm[i < 0 ? series.level_mm.length - 1 : i] ?? 0;
};

/** The one huge thing, readable from two metres, with what the scale shows under it and what comes next. */
function Huge({
  now,
  elapsed,
  brew,
  heard,
  tap,
  children,
}: {
  now: Present;
  elapsed: number;
  brew: Brew;
  heard: Heard;
  tap: () => void;
  children?: ReactNode;
}) {
  const { mass, massFigure, rateFigure, rateUnit } = useUnits();
  const left = now.until === null ? null : now.until - elapsed;
  const r = heard.reading;
  const step = brew.steps[brew.now];
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
        disabled={!now.tappable}
        onClick={tap}
        aria-label={`${now.above} ${now.huge} ${now.unit ?? ""}`}
      >
        {now.huge}
        {now.unit && <span>{now.unit}</span>}
      </button>
      <div className="brew-line" data-testid="brew-line">
        {!now.held && left !== null && left > 0 && step?.kind === "pour" ? (
          <span className="brew-count">
            in <b className="figure">{clock(Math.ceil(left))}</b>
          </span>
        ) : step?.kind === "add" ? null : weighed && brew.scale?.standing === "brewer" ? (
          <>
            <b className="figure">{mass(weight)}</b> now
            {pouring && r?.rate_g_s != null && (
              <>
                , <b className="figure">{rateFigure(Math.max(0, r.rate_g_s))}</b> {rateUnit}
                {r.pace && `, ${r.pace}`}
              </>
            )}
          </>
        ) : weighed ? (
          <>
            <b className="figure">{mass(weight)}</b> in the cup,{" "}
            <b className="figure">{massFigure(r?.expected_g ?? 0)}</b> by the plan
          </>
        ) : pouring && left !== null && step.drops_per_min != null ? (
          <>
            <b className="figure">{step.drops_per_min}</b> drops a minute
          </>
        ) : pouring && left !== null && step.mark == null ? (
          <>
            <b className="figure">{step.rate_g_s != null && rateFigure(step.rate_g_s)}</b> {rateUnit},{" "}
            <b className="figure">{clock(Math.max(0, Math.ceil(left)))}</b> more
          </>
        ) : (
          now.below
        )}
      </div>
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
function PourBar({ step, weight, expected: due }: { step: Step; weight: number | null; expected: number | null }) {
  const { mass, massFigure } = useUnits();
  const shown = weight ?? due;
  if (shown === null) return null;
  const from = (step.total_g ?? 0) - step.amount_g;
  const share = (g: number) => `${100 * Math.min(1, Math.max(0, (g - from) / step.amount_g))}%`;
  return (
    <div className="pour-bar" role="img" aria-label={`${massFigure(shown)} of ${mass(step.total_g ?? 0)}`}>
      <div className="poured" style={{ width: share(shown) }} data-quiet={weight === null || undefined} />
      {weight !== null && due !== null && (
        <div className="due" style={{ left: share(due) }}>
          <span>the plan</span>
        </div>
      )}
    </div>
  );
}

function StepList({
  steps,
  now,
  elapsed,
  heard,
  standing,
}: {
  steps: Step[];
  now: number;
  elapsed: number;
  heard: Heard;
  standing: "brewer" | "cup" | null;
}) {
  const { massFigure } = useUnits();
  const weight = heard.weight_g.at(-1);
  return (
    <ol className="rows brew-steps">
      {steps.map((s, i) => (
        <li key={i} className={i === now && elapsed >= s.at_s ? "held" : i < now ? "over" : undefined}>
          <span>
            <span className="figure">{clock(endsByItself(s) ? s.ends_s : s.at_s)}</span>
            &ensp;{s.words}
          </span>
          <span className="figure">
            {s.done_s != null && s.by
              ? `${clock(s.done_s)}`
              : i === now && s.kind === "pour" && standing === "brewer" && weight !== undefined
                ? `${massFigure(weight)}…`
                : ""}
          </span>
        </li>
      ))}
    </ol>
  );
}

function WeighedDose({ brew, hand }: { brew: Brew; hand: Hand }) {
  const [dose, setDose] = useState<string | null>(null);
  return (
    <div className="dose-row">
      <TypedQuantity
        small
        what="mass"
        label="In the brewer"
        value={dose ?? String(brew.dose_g)}
        onChange={setDose}
        onBlur={() => {
          if (dose !== null && dose.trim()) void hand.weigh(dose).then((taken) => taken && setDose(null));
        }}
        trouble={troubleWith(hand.error, "dose_g")}
      />
    </div>
  );
}

function Watch({ title, detail }: { title: string; detail: string }) {
  return (
    <div className="brew-watch" role="status">
      <Sign kind="watch" />
      <div>
        <strong>{title}</strong>
        <br />
        <span className="quiet">{detail}</span>
      </div>
    </div>
  );
}
