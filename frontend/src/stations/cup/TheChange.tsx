import type { Schemas } from "../../api/client";
import { endingWords, type Ending } from "../../ui/steeps";
import { Setting } from "../../ui/parts";
import { capital, clock } from "../../ui/words";

const WHAT: Record<string, string> = {
  temperature: "Water",
  ratio: "Coffee to water",
  dose: "Coffee",
  pours: "Stream",
  agitation: "Stirring",
  time: "Steep",
  filter: "Filter",
  seating: "Paper",
  mesh: "Under the paper",
  sieve: "Grind",
  "bypass-water": "After the brew",
  dilution: "Water in the cup",
  preheat: "Brewer",
  brewer: "Brewer",
  coffee: "Coffee",
  water: "Water",
  compensated: "Together",
  rest: "Coffee",
};

const HEADING: Record<NonNullable<Schemas["AdviceDocument"]["status"]>, string> = {
  "taste-first": "Nothing tasted yet",
  keep: "Keep it",
  repeat: "Change nothing",
  back: "An earlier cup was better",
  change: "Change one thing",
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
    <section aria-label="The one change" data-testid="the-change">
      <p style={{ color: "var(--ink-2)" }}>{HEADING[still ? (advice.status ?? "change") : "change"]}</p>
      <h1
        style={{
          fontSize: 36,
          lineHeight: "41px",
          letterSpacing: "-0.03em",
          fontWeight: 600,
          color: "var(--persimmon-text)",
          margin: "6px 0 4px",
        }}
      >
        {capital(m.words)}
      </h1>
      {!still && (
        <p style={{ fontSize: 19 }}>
          {what}{" "}
          <strong>
            <Setting value={m.from} />
          </strong>
          {m.to && (
            <>
              {" "}
              to{" "}
              <strong>
                <Setting value={m.to} />
              </strong>
            </>
          )}
        </p>
      )}
      {!still && (
        <ul className="rows" style={{ margin: "10px 0 8px" }}>
          <Change
            label={ending ? endingWords(ending).field : "Bare bed"}
            from={clock(m.before.drawdown_s)}
            to={clock(m.after.drawdown_s)}
            half={`± ${Math.round(m.half_width95.drawdown_s)} s`}
            estimated={!advice.measured!.includes("drawdown_s")}
          />
          <Change
            label="Strength"
            from={m.before.tds_percent.toFixed(2)}
            to={`${m.after.tds_percent.toFixed(2)} %`}
            half={`± ${m.half_width95.tds_percent.toFixed(2)}`}
            estimated={!advice.measured!.includes("tds_percent")}
          />
          <Change
            label="Extraction"
            from={m.before.ey_percent.toFixed(1)}
            to={`${m.after.ey_percent.toFixed(1)} %`}
            half={`± ${m.half_width95.ey_percent.toFixed(1)}`}
            estimated={!advice.measured!.includes("ey_percent")}
          />
          {m.before.evenness_percent != null &&
            m.after.evenness_percent != null &&
            Math.abs(m.after.evenness_percent - m.before.evenness_percent) >= 1 && (
              <Change
                label="Evenness"
                from={m.before.evenness_percent.toFixed(0)}
                to={`${m.after.evenness_percent.toFixed(0)} %`}
                half=""
                estimated
              />
            )}
        </ul>
      )}
      <p style={{ marginTop: still ? 14 : 0, maxWidth: "46ch" }}>{m.reason}</p>
      <p className="quiet" style={{ marginTop: 8, maxWidth: "52ch" }}>
        {m.wrong_if}
        {m.caution && <strong>{m.caution} </strong>}
        {m.side_effects!.length > 0 && ` Side effects: ${m.side_effects!.join(", ")}.`}
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
    <li
      style={{
        display: "grid",
        gridTemplateColumns: "88px 62px 34px minmax(86px, auto) 1fr",
        alignItems: "baseline",
        padding: "3px 0",
        lineHeight: 1.35,
      }}
    >
      <span style={{ color: "var(--ink-2)" }}>{label}</span>
      <span
        className="figure"
        style={{ fontSize: 20, color: "var(--ink-2)" }}
        title={estimated ? "estimated, not measured" : "measured"}
      >
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
        aria-label="to"
      >
        <path d="M1 6h22M18 1.5 23.5 6 18 10.5" />
      </svg>
      <span className="figure" style={{ fontSize: 22, fontWeight: 600, whiteSpace: "nowrap" }}>
        {to}
      </span>
      <span className="figure quiet">{half}</span>
    </li>
  );
}
