import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { Finding, settingText } from "../../ui/parts";
import { about, clock, endsByItself, isHot } from "../../ui/words";
import { dayAndTime } from "../../ui/dates";
import { endingWords } from "../../ui/steeps";
import { useUnits } from "../../ui/useUnits";
import { Margin } from "../../ui/Margin";
import { cssVariables } from "../../ui/cssVariables";
import { WORDS } from "./words";

const TEXT = WORDS.planMargin;
const MOST_NOTES = 3;

/** What the plan should do, how sure that is, and what to know before brewing. */
export function PlanMargin({
  plan,
  takeHeat,
  children,
}: {
  plan: Schemas["PlanView"];
  takeHeat: (celsius: number) => void;
  children?: ReactNode;
}) {
  const { mass, heat } = useUnits();
  const p = plan.prediction;
  const half = p.half_width95;
  const g = plan.grind;
  // Water and ice that go into the drink weaken it.
  const inCup = plan.dilution_g + plan.ice_g > 0 ? plan.cup_tds_percent / p.tds_percent : 1;
  const fitted = p.fitted_on_brews ? TEXT.fittedToOfYourBrews(p.fitted_on_brews) : TEXT.notYetFittedToYourBrews;
  // The most useful come first; the rest is there for who asks.
  const notes = [
    ...plan.by_hand.map((h) => <Finding key={h} kind="note" title={h} />),
    ...plan.notes.map((n) => (
      <Finding
        key={n.title}
        kind={n.kind}
        title={n.title}
        detail={n.detail}
        act={
          n.use_water_c != null && (
            <button className="link" onClick={() => takeHeat(n.use_water_c!)}>
              {TEXT.toUse(heat(n.use_water_c))}
            </button>
          )
        }
      />
    )),
  ];
  return (
    <Margin label={TEXT.whatThePlanShouldDo}>
      <h2>
        {g.grinder_name && g.setting
          ? TEXT.withYourAt(g.grinder_name, settingText(g.setting))
          : g.assumed
            ? TEXT.withAnAssumedGrind
            : TEXT.withTheMeasuredGrind}
      </h2>
      <div className="number" data-testid="predicted">
        {clock(p.drawdown_s)}
      </div>
      <p className="said">
        {plan.document.steep ? (
          <>
            {endingWords(plan.document.steep.ending).until}
            {TEXT.fromTheFirstPour} {fitted}.
            {p.drawdown_s > 7200 && (
              <> {TEXT.begunNowReady(dayAndTime(new Date(Date.now() + 1000 * p.last_drip_s).toISOString()))}</>
            )}
          </>
        ) : (
          <>
            {TEXT.toABareBedGiveOrTake} {about(half.drawdown_s!)}; {fitted}
            {TEXT.lastDrip} {clock(p.last_drip_s)}
            {TEXT.fromTheFirstPour2}
            {p.last_drip_s > 7200 && (
              <> {TEXT.begunNowReady(dayAndTime(new Date(Date.now() + 1000 * p.last_drip_s).toISOString()))}</>
            )}
          </>
        )}
      </p>
      <ul className="rows">
        <li>
          <span>{inCup < 1 ? TEXT.strengthAsDrunk : TEXT.strength}</span>
          <span className="figure">
            {plan.cup_tds_percent.toFixed(2)} % ±{(half.tds_percent! * inCup).toFixed(2)}
          </span>
        </li>
        {inCup < 1 && (
          <li>
            <span>{TEXT.strengthAsBrewed}</span>
            <span className="figure">{p.tds_percent.toFixed(2)} %</span>
          </li>
        )}
        <li>
          <span>{TEXT.extraction}</span>
          <span className="figure">
            {p.ey_percent.toFixed(1)} % ±{half.ey_percent!.toFixed(1)}
          </span>
        </li>
        {plan.dilution_g > 0 && (
          <li>
            <span>{TEXT.waterToAdd}</span>
            <span className="figure">{mass(plan.dilution_g)}</span>
          </li>
        )}
        {plan.document.held_back_g! > 0 && (
          <li>
            <span>{TEXT.concentrateHeldBack}</span>
            <span className="figure">{mass(plan.document.held_back_g!)}</span>
          </li>
        )}
        {plan.ice_g > 0 && (
          <li>
            <span>{TEXT.ice}</span>
            <span className="figure">{mass(plan.ice_g)}</span>
          </li>
        )}
        {!plan.document.steep && (
          <li>
            <span>{TEXT.bed}</span>
            <span className="figure">{TEXT.mmDeep(Math.round(p.bed_depth_mm))}</span>
          </li>
        )}
        {p.bypass_fraction > 0.005 && (
          <li>
            <span>{TEXT.waterBypassingTheBed}</span>
            <span className="figure">{Math.round(100 * p.bypass_fraction)} %</span>
          </li>
        )}
        {p.slurry_c > 40 && (
          <li>
            <span>{TEXT.hottestSlurry}</span>
            <span className="figure">{heat(p.slurry_c)}</span>
          </li>
        )}
      </ul>
      {!plan.document.steep && <Thirds thirds={p.tds_by_third} />}
      {children}
      <ul className="findings">{notes.slice(0, MOST_NOTES)}</ul>
      {notes.length > MOST_NOTES && (
        <details className="folded">
          <summary>{TEXT.moreOnThisPlan(notes.length - MOST_NOTES)}</summary>
          <ul className="findings">{notes.slice(MOST_NOTES)}</ul>
        </details>
      )}
      {plan.dilution_steps.length > 0 && <Dilution steps={plan.dilution_steps} />}
      <details className="steps folded">
        <summary>{TEXT.stepByStep}</summary>
        <ol>
          {plan.steps.map((s, i) => (
            <li key={i}>
              <span className="figure">{clock(endsByItself(s) ? s.ends_s : s.at_s)}</span>&ensp;{s.words}
            </li>
          ))}
        </ol>
      </details>
      <details className="folded">
        <summary>{TEXT.whatIsAssumed}</summary>
        <ul>
          {p.assumptions.map((a) => (
            <li key={a}>{a}</li>
          ))}
        </ul>
      </details>
      <p className="quiet above-m">{TEXT.thisIsBrewingGuidanceOnly(isHot(plan.document))}</p>
    </Margin>
  );
}

/** The cup after every step of water: taste, then add. */
function Dilution({ steps }: { steps: Schemas["DilutionStepView"][] }) {
  const { mass } = useUnits();
  return (
    <details className="steps dilution">
      <summary>{TEXT.tasteThenAddTheCupAfterEach}</summary>
      <table>
        <thead>
          <tr>
            <th>{TEXT.water}</th>
            <th>{TEXT.inTheCup}</th>
            <th>{TEXT.strength2}</th>
          </tr>
        </thead>
        <tbody>
          {steps.map((s) => (
            <tr key={s.added_g} className="figure">
              <td>{mass(s.added_g)}</td>
              <td>{mass(s.cup_g)}</td>
              <td>{s.tds_percent.toFixed(2)} %</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

/** Strength of the first, middle and last third of the drink: none is good alone. */
function Thirds({ thirds }: { thirds: readonly number[] }) {
  const most = Math.max(...thirds, 0.01);
  return (
    <>
      <p className="quiet thirds-head">{TEXT.firstMiddleLastThirdOfThe}</p>
      <div className="thirds" role="img" aria-label={TEXT.strengthByThirds(thirds.map((t) => t.toFixed(1)).join(", "))}>
        {thirds.map((t, i) => (
          <div key={i} style={cssVariables({ "--dark": `${Math.round(8 + 44 * (t / most))}%` })}>
            {t.toFixed(1)} %
          </div>
        ))}
      </div>
    </>
  );
}
