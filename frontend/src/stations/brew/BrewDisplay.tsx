import type { Schemas } from "../../api/client";
import { useTouched } from "../../api/touched";
import { Away } from "../../app/Away";
import { Waiting } from "../../ui/parts";
import { GivenUnits, useUnits } from "../../ui/useUnits";
import { clock } from "../../ui/words";
import { BrewStage } from "./BrewStage";
import { useAwake } from "./cues";
import { presentOf } from "./present";
import { useBrew, useDisplayedBrew } from "../../api/brews";
import { usePlan } from "../../api/plans";
import type { KeptBrew } from "../../api/brews";
import { useElapsed, useLiveBrew } from "./useLiveBrew";
import "./brew.css";
import { WORDS } from "./words";

const TEXT = WORDS.brewDisplay;

/** The brew that runs, to be looked at and nothing else: what a display's link opens. */
export default function BrewDisplay() {
  const shown = useDisplayedBrew().data;
  useAwake(true);
  const plan = usePlan(shown?.plan_id ?? undefined).data;
  const brew = useBrew(shown?.brew_id ?? undefined).data;
  return (
    <main className="display">
      <h1 className="unseen">{TEXT.brew}</h1>
      <Away />
      {!shown ? (
        <div className="empty">
          <Waiting>{TEXT.fetching}</Waiting>
        </div>
      ) : plan && brew?.state === "running" ? (
        <GivenUnits value={shown.units}>
          <Running key={brew.id} plan={plan} brew={brew} />
        </GivenUnits>
      ) : (
        <div className="empty">
          <p className="brew-next">{shown.brewed_s != null ? TEXT.brewedIn(clock(shown.brewed_s)) : TEXT.noBrewRuns}</p>
          <p>{TEXT.theNextBrewIsShownHereAsSoon}</p>
        </div>
      )}
    </main>
  );
}

function Running({ plan, brew: kept }: { plan: Schemas["PlanView"]; brew: KeptBrew }) {
  const units = useUnits();
  const touched = useTouched("brews");
  const heard = useLiveBrew(kept.id, true, () => void touched(undefined));
  const brew = heard.view && heard.view.version >= kept.version ? heard.view : kept;
  const elapsed = useElapsed(heard, kept);
  return (
    <>
      <time className="display-clock figure" data-testid="clock">
        {clock(Math.floor(elapsed))}
      </time>
      <BrewStage
        plan={plan}
        brew={brew}
        heard={heard}
        elapsed={elapsed}
        at={brew.now}
        now={presentOf(brew.steps, brew.now, elapsed, units)}
      />
    </>
  );
}
