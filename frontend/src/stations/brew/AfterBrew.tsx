import { useState } from "react";
import { useNavigate } from "react-router-dom";
import { useStationActions } from "../../app/actions";
import type { Schemas } from "../../api/client";
import { useBrewLog, useBrewWrites } from "../../api/brews";
import { LevelChart } from "../../charts/LevelChart";
import { Trouble } from "../../ui/parts";
import { endingWords } from "../../ui/steeps";
import { clock, isHot, whole } from "../../ui/words";
import type { Hand } from "./useHand";
import { FitDialog } from "./FitDialog";
import { Notes } from "./Notes";
import { endNotSeenWords } from "./present";
import { PourAccuracy } from "../../ui/PourAccuracy";
import { useUnits } from "../../ui/useUnits";
import { Margin } from "../../ui/Margin";
import { WORDS } from "./words";

const TEXT = WORDS.afterBrew;

type Brew = Schemas["BrewView"];

/** After the brew: what happened over what was planned, what it says of grind and hand, and what the bed looked like. */
export function AfterBrew({ plan, brew, hand }: { plan: Schemas["PlanView"]; brew: Brew; hand: Hand }) {
  const { mass } = useUnits();
  const navigate = useNavigate();
  const { keepBedPhoto } = useBrewWrites();
  const [fit, setFit] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const log = useBrewLog(brew);
  useStationActions(`${plan.brewer_label}, ${brew.scale?.label ?? TEXT.timedByHand}`, [
    { key: "R", label: TEXT.brewItAgain, run: hand.again },
    { key: "W", label: TEXT.brewsBehindThePrediction, run: () => setFit(true) },
    { key: "Space", label: TEXT.toTheCup, main: true, run: () => navigate("/cup") },
  ]);
  const p = plan.prediction;
  const off = brew.bare_bed_s != null ? brew.bare_bed_s - p.drawdown_s : null;
  async function keepPhoto(file: File) {
    try {
      await keepBedPhoto(brew.id, file);
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  const steep = plan.document.steep;
  const spent = steep ? TEXT.theSpentGrounds : TEXT.theSpentBed;
  const actual = {
    t_s: log.data?.t_s ?? [],
    poured_g: log.data?.poured_g,
    drink_g: log.data?.drink_g,
    level_t_s: brew.found?.level_t_s,
    level_mm: brew.found?.level_mm,
    bare_bed_s: steep ? null : brew.bare_bed_s,
  };
  return (
    <div className="station-page">
      <div className="thing brew-over">
        <div className="brew-result">
          <div>
            <div className="brew-above">
              {steep
                ? endingWords(steep.ending).field
                : brew.bare_bed_s != null
                  ? brew.bare_bed_by === "drip"
                    ? TEXT.probablyBareAt
                    : TEXT.bedBareAt
                  : TEXT.noBareBedWasSeen}
            </div>
            <div className="figure brew-huge result" data-testid="bare-bed">
              {brew.bare_bed_s != null ? `${brew.bare_bed_by === "drip" ? "~" : ""}${clock(brew.bare_bed_s)}` : "–"}
            </div>
            <p className="brew-line single">
              {off != null && !steep && (
                <>
                  {Math.abs(off) < 2
                    ? TEXT.asPlanned
                    : TEXT.sThanThePlans(Math.round(Math.abs(off)), off > 0, clock(p.drawdown_s))}
                  {brew.bare_bed_by === "scale"
                    ? TEXT.byTheScale
                    : brew.bare_bed_by === "drip"
                      ? TEXT.fromTheLastDrip
                      : TEXT.byYourTap}
                </>
              )}
              {brew.bare_bed_s == null && endNotSeenWords(Boolean(steep), brew.scale?.standing)}
            </p>
            {brew.doubts.length > 0 && (
              <p className="quiet" role="note">
                {TEXT.notLearnedFrom(brew.doubts.join("; "))}
              </p>
            )}
          </div>
          <Notes
            notes={brew.notes}
            note={(what, on) => void hand.note(what, on)}
            over
            steeps={Boolean(steep)}
            hot={isHot(plan.document)}
          />
        </div>
        <LevelChart document={plan.document} prediction={p} actual={actual} />
      </div>
      <Margin label={TEXT.whatHappened}>
        <h2>
          {TEXT.whatHappened}
          {brew.scale?.simulated && TEXT.simulated}
        </h2>
        <ul className="rows">
          {brew.last_drip_s != null && (
            <li>
              <span>{steep ? TEXT.lastDrop : TEXT.lastDrip}</span>
              <span className="figure">{clock(brew.last_drip_s)}</span>
            </li>
          )}
          {brew.found?.drink_g != null && (
            <li>
              <span>{TEXT.inTheCup}</span>
              <span className="figure">{mass(brew.found.drink_g)}</span>
            </li>
          )}
          {brew.stalled && (
            <li>
              <span>{TEXT.stalled}</span>
              <span className="figure">
                {brew.found?.stalled_at_s != null ? TEXT.from(clock(brew.found.stalled_at_s)) : TEXT.noted}
              </span>
            </li>
          )}
          {brew.dose_g !== brew.planned_dose_g && (
            <li>
              <span>{TEXT.doseAsWeighed}</span>
              <span className="figure">{mass(brew.dose_g, 1)}</span>
            </li>
          )}
        </ul>
        {brew.flows_like && <FlowsLike like={brew.flows_like} />}
        {brew.accuracy && <PourAccuracy accuracy={brew.accuracy} from={brew.found?.pours_from ?? "plan"} />}
        {(hand.error ?? error) != null && <Trouble error={hand.error ?? error} />}
        <h2 className="above-l">{spent}</h2>
        {brew.has_bed_photo && (
          <img src={`/api/brews/${brew.id}/bed-photo?v=${brew.version}`} alt={spent} className="bed-photo" />
        )}
        <label className="link file-link">
          {brew.has_bed_photo ? TEXT.anotherPhotoOfIt : TEXT.keepAPhotoOfIt}
          <input
            type="file"
            accept="image/*"
            onChange={(e) => {
              const f = e.target.files?.[0];
              if (f) void keepPhoto(f);
            }}
          />
        </label>
        <p className="quiet above-m">
          {brew.bare_bed_s != null &&
            !steep &&
            brew.doubts.length === 0 &&
            (brew.in_fit ? TEXT.itCountsForTheNextPrediction : TEXT.itIsLeftOutOfTheNextPrediction)}
          <a className="link" href={`/api/brews/${brew.id}/log.csv`} download>
            {TEXT.logAsCsv}
          </a>
        </p>
      </Margin>
      <FitDialog open={fit} close={() => setFit(false)} />
    </div>
  );
}

function FlowsLike({ like: l }: { like: Schemas["FlowsLikeView"] }) {
  return (
    <section aria-label={TEXT.flowsLike} className="above-l">
      <h2>{TEXT.itFlowedLike}</h2>
      <ul className="rows">
        <li>
          <span>{TEXT.aGrindOf}</span>
          <span className="figure">
            {l.median_um != null ? `${whole(l.median_um)} µm` : TEXT.outOfReach}
            <span className="quiet"> {TEXT.planned(whole(l.plan_median_um))}</span>
          </span>
        </li>
        <li>
          <span>{TEXT.orFinesOf}</span>
          <span className="figure">
            {l.fines_below_100 != null ? `${(100 * l.fines_below_100).toFixed(1)} %` : TEXT.outOfReach}
            <span className="quiet"> {TEXT.planned((100 * l.plan_fines_below_100).toFixed(1))}</span>
          </span>
        </li>
        {l.permeability_m2 != null && (
          <li>
            <span>{TEXT.permeability}</span>
            <span className="figure">{(l.permeability_m2 * 1e12).toFixed(1)} µm²</span>
          </li>
        )}
      </ul>
      <p className="quiet above-s">{TEXT.eachTakenAloneTheOtherAsOn}</p>
    </section>
  );
}
