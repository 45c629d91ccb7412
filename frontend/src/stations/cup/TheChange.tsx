import type { Schemas } from "../../api/client";
import { endingWords, type Ending } from "../../ui/steeps";
import { Setting } from "../../ui/parts";
import { about, capital, clock } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.theChange;

const WHAT: Record<string, string> = {
  temperature: "Water",
  ratio: TEXT.coffeeToWater,
  dose: "Coffee",
  pours: "Stream",
  agitation: "Stirring",
  time: "Steep",
  filter: "Filter",
  seating: "Paper",
  mesh: TEXT.underThePaper,
  sieve: "Grind",
  "bypass-water": TEXT.afterTheBrew,
  dilution: TEXT.waterInTheCup,
  preheat: "Brewer",
  brewer: "Brewer",
  coffee: "Coffee",
  water: "Water",
  compensated: "Together",
  rest: "Coffee",
};

const HEADING: Record<NonNullable<Schemas["AdviceDocument"]["status"]>, string> = {
  "taste-first": TEXT.nothingTastedYet,
  keep: TEXT.keepIt,
  repeat: TEXT.changeNothing,
  back: TEXT.anEarlierCupWasBetter,
  change: TEXT.changeOneThing,
};

/** The one change: what, from where to where, what it should do, why, and what would show it wrong. */
export function TheChange({
  move: m,
  grinder,
  advice,
  ending,
}: {
  move: Schemas["MoveDocument"];
  grinder?: string;
  advice: Schemas["AdviceDocument"];
  ending?: Ending | null;
}) {
  const still = m.kind === "repeat" || m.kind === "none";
  const what = m.kind === "grind" ? (grinder ?? "Grind") : (WHAT[m.kind] ?? "");
  return (
    <section aria-label={TEXT.theOneChange} data-testid="the-change">
      <p className="muted">{HEADING[still ? (advice.status ?? "change") : "change"]}</p>
      <h1 className="the-change">{capital(m.words)}</h1>
      {!still && (
        <p className="the-change-under">
          {what}{" "}
          <strong>
            <Setting value={m.from} />
          </strong>
          {m.to && (
            <>
              {" "}
              {TEXT.to}{" "}
              <strong>
                <Setting value={m.to} />
              </strong>
            </>
          )}
        </p>
      )}
      {!still && (
        <ul className="rows around-m">
          <Change
            label={ending ? endingWords(ending).field : TEXT.bareBed}
            from={clock(m.before.drawdown_s)}
            to={clock(m.after.drawdown_s)}
            half={`± ${about(m.half_width95.drawdown_s)}`}
            estimated={!advice.measured!.includes("drawdown_s")}
          />
          <Change
            label={TEXT.strength}
            from={m.before.tds_percent.toFixed(2)}
            to={`${m.after.tds_percent.toFixed(2)} %`}
            half={`± ${m.half_width95.tds_percent.toFixed(2)}`}
            estimated={!advice.measured!.includes("tds_percent")}
          />
          <Change
            label={TEXT.extraction}
            from={m.before.ey_percent.toFixed(1)}
            to={`${m.after.ey_percent.toFixed(1)} %`}
            half={`± ${m.half_width95.ey_percent.toFixed(1)}`}
            estimated={!advice.measured!.includes("ey_percent")}
          />
          {m.before.evenness_percent != null &&
            m.after.evenness_percent != null &&
            Math.abs(m.after.evenness_percent - m.before.evenness_percent) >= 1 && (
              <Change
                label={TEXT.evenness}
                from={m.before.evenness_percent.toFixed(0)}
                to={`${m.after.evenness_percent.toFixed(0)} %`}
                half=""
                estimated
              />
            )}
        </ul>
      )}
      <p className={still ? "reason above-m" : "reason"}>{m.reason}</p>
      <p className="quiet above-s reason-more">
        {m.wrong_if}
        {m.caution && <strong>{m.caution} </strong>}
        {m.side_effects!.length > 0 && TEXT.sideEffects(m.side_effects!.join(", "))}
      </p>
    </section>
  );
}

function Change({
  label,
  from,
  to,
  half,
  estimated,
}: {
  label: string;
  from: string;
  to: string;
  half: string;
  estimated: boolean;
}) {
  return (
    <li className="from-to">
      <span className="muted">{label}</span>
      <span className="figure from" title={estimated ? TEXT.estimatedNotMeasured : TEXT.measured}>
        {estimated ? "~" : ""}
        {from}
      </span>
      <svg
        width="26"
        height="12"
        viewBox="0 0 26 12"
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.8"
        strokeLinecap="round"
        aria-label={TEXT.to}
      >
        <path d="M1 6h22M18 1.5 23.5 6 18 10.5" />
      </svg>
      <span className="figure to">{to}</span>
      <span className="figure quiet">{half}</span>
    </li>
  );
}
