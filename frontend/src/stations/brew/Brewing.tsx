import { useRef, useState } from "react";
import { useNavigate } from "react-router-dom";
import { useStationActions } from "../../app/actions";
import type { Schemas } from "../../api/client";
import { useTouched } from "../../api/touched";
import { Sign, Trouble, troubleWith } from "../../ui/parts";
import { clock, isHot } from "../../ui/words";
import { BrewStage } from "./BrewStage";
import type { Hand } from "./useHand";
import { TasteAndAdd } from "./TasteAndAdd";
import { toggleFullScreen, useAwake, useCues, useMute, wakeSound } from "./cues";
import { Notes } from "./Notes";
import { presentOf } from "./present";
import { StepList } from "./StepList";
import type { KeptBrew } from "../../api/brews";
import { useElapsed, useLiveBrew } from "./useLiveBrew";
import { TypedQuantity } from "../../ui/TypedQuantity";
import { useUnits } from "../../ui/useUnits";
import { Margin } from "../../ui/Margin";
import { WORDS } from "./words";

const TEXT = WORDS.brewing;

type Brew = Schemas["BrewView"];

const ONE_TAP_MS = 600;

/** A running brew: one huge thing to do now, what comes next, and the plan against what the scale shows. */
export function Brewing({ plan, brew: kept, hand }: { plan: Schemas["PlanView"]; brew: KeptBrew; hand: Hand }) {
  const units = useUnits();
  const touched = useTouched("brews");
  const navigate = useNavigate();
  const heard = useLiveBrew(kept.id, true, () => void touched(undefined));
  const brew = heard.view && heard.view.version >= kept.version ? heard.view : kept;
  const elapsed = useElapsed(heard, kept);
  const [mute, toggleMute] = useMute();
  // Steps that were tapped while the server is away are over here already.
  const at = Math.min(brew.now + hand.waiting, brew.steps.length);
  const step = brew.steps[at];
  const now = presentOf(brew.steps, at, elapsed, units);
  const due =
    brew.steps.find(
      (s, i) =>
        i >= at && s.done_s == null && s.at_s > 0 && ["pour", "press", "open-valve", "stir", "swirl"].includes(s.kind),
    )?.at_s ?? null;
  const flash = useCues(due, heard.reading ? elapsed : null, mute);
  const awake = useAwake(true);
  const [added, setAdded] = useState<number | null>(null);
  const tapped = useRef(0);

  function done() {
    wakeSound();
    // A second tap of the same finger is not the next step's.
    if (performance.now() - tapped.current < ONE_TAP_MS) return;
    tapped.current = performance.now();
    if (!step) navigate("/cup");
    else {
      const amount = step.kind === "add" && added !== null ? plan.dilution_steps[added]?.added_g : null;
      void hand.tap({ what: now.says, step: at, amount_g: amount, at_s: elapsed }, `${now.tap}, ${clock(elapsed)}`);
    }
  }
  const begin = () =>
    void hand.tap({ what: "begin", step: at, at_s: elapsed }, TEXT.begun(`${now.huge} ${now.unit ?? ""}`.trim()));
  const where = [
    brew.scale ? `${brew.scale.label}${brew.scale.connected ? "" : ", unplugged"}` : TEXT.timedByHand,
    brew.speed > 1 ? TEXT.timesAsFast(brew.speed) : "",
  ]
    .filter(Boolean)
    .join(", ");
  useStationActions(where, [
    ...(plan.document.steep
      ? []
      : [{ key: "T", label: TEXT.itStalled, run: () => void hand.tap({ what: "stalled" }, TEXT.notedItStalled) }]),
    ...(step?.kind === "pour" && now.held && at > 0 ? [{ key: "B", label: TEXT.beginsNow, run: begin }] : []),
    { key: "P", label: TEXT.spilt, run: () => void hand.note("spilt", true) },
    ...(brew.scale
      ? [
          {
            key: "G",
            label: brew.scale.connected ? TEXT.unplugScale : TEXT.plugScaleIn,
            run: () => void hand.plug(!brew.scale!.connected),
          },
        ]
      : []),
    { key: "M", label: mute ? TEXT.soundOn : TEXT.mute, run: toggleMute },
    { key: "F", label: TEXT.fullScreen, run: toggleFullScreen },
    {
      key: "Space",
      main: true,
      label:
        now.says === "begin" && now.until != null
          ? TEXT.bringForward(now.tap, clock(Math.max(0, now.until - elapsed)))
          : now.tap,
      run: done,
    },
  ]);
  return (
    <div className={`station-page brewing${flash ? " flash" : ""}`}>
      <BrewStage plan={plan} brew={brew} heard={heard} elapsed={elapsed} at={at} now={now} tap={done}>
        {step?.kind === "add" && <TasteAndAdd steps={plan.dilution_steps} added={added} set={setAdded} />}
      </BrewStage>
      <Margin label={TEXT.theBrew}>
        <h2>{TEXT.sinceTheFirstPour}</h2>
        <time className="number brew-clock" data-testid="clock" dateTime={`PT${elapsed.toFixed(1)}S`}>
          {clock(Math.floor(elapsed))}
        </time>
        <p className="said">
          {TEXT.thePlanEndsAbout(
            clock(
              brew.steps.find((s) => s.kind === "drain" || s.kind === "press")?.ends_s ?? plan.prediction.drawdown_s,
            ),
          )}
        </p>
        {brew.left_running && (
          <div className="trouble-box below-m">
            <strong>{TEXT.itHasRunFor(clock(elapsed))}</strong> {TEXT.goOnOr}{" "}
            <button className="link" onClick={() => void hand.close()}>
              {TEXT.closeIt}
            </button>
            .
          </div>
        )}
        {hand.error != null && !troubleWith(hand.error, "dose_g") && <Trouble error={hand.error} />}
        {heard.lost && (
          <Watch
            title={TEXT.theServerIsNotHeard}
            detail={
              hand.waiting === 0
                ? TEXT.theClockGoesOnTapsWaitHere
                : hand.waiting === 1
                  ? TEXT.theClockGoesOnATapWaitsHere
                  : TEXT.theClockGoesOnTapsWaitHere2(hand.waiting)
            }
          />
        )}
        {heard.reading?.silent && (
          <Watch
            title={brew.scale?.connected ? TEXT.theScaleIsSilent : TEXT.theScaleIsUnplugged}
            detail={TEXT.tapWhenAPourEndsTheBrewGoes}
          />
        )}
        <StepList
          steps={brew.steps}
          now={at}
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
          hot={isHot(plan.document)}
        />
        {!awake && <p className="quiet above-m">{TEXT.thisBrowserCannotKeepTheScreen}</p>}
        <p className="quiet above-m">
          {brew.stalled
            ? TEXT.stalledDoNotPressOnAPlugged
            : isHot(plan.document)
              ? TEXT.waterAtScaldsKeepAHandClear(units.heat(plan.document.water_c ?? 93))
              : TEXT.cleanVesselsCleanHandsKeep}
        </p>
      </Margin>
    </div>
  );
}

function WeighedDose({ brew, hand }: { brew: Brew; hand: Hand }) {
  const [dose, setDose] = useState<string | null>(null);
  return (
    <div className="dose-row">
      <TypedQuantity
        small
        what="mass"
        label={TEXT.inTheBrewer}
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
