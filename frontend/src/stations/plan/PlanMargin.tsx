import type { Schemas } from "../../api/client";
import { Finding, settingText } from "../../ui/parts";
import { clock } from "../../ui/words";

/** What the plan should do, how sure that is, and what to know before brewing. */
export function PlanMargin({ plan }: { plan: Schemas["PlanView"] }) {
  const p = plan.prediction;
  const half = p.half_width95;
  const g = plan.grind;
  const fitted = p.fitted_on_brews ? `rests on ${p.fitted_on_brews} of your brews` : "not yet fitted to your brews";
  return (
    <aside className="margin" aria-label="What the plan should do">
      <h2>{g.grinder_name && g.setting ? `With your ${g.grinder_name} at ${settingText(g.setting)}` : g.assumed ? "With an assumed grind" : "With the grind on the photo"}</h2>
      <div className="number" data-testid="predicted">{clock(p.drawdown_s)}</div>
      <p className="said">
        to a bare bed, give or take {Math.round(half.drawdown_s!)} s; {fitted}. Last drip {clock(p.last_drip_s)}, from the first pour.
      </p>
      <ul className="rows">
        <li><span>Strength</span><span className="figure">{p.tds_percent.toFixed(2)} % ±{half.tds_percent!.toFixed(2)}</span></li>
        <li><span>Extraction</span><span className="figure">{p.ey_percent.toFixed(1)} % ±{half.ey_percent!.toFixed(1)}</span></li>
        <li><span>Bed</span><span className="figure">{Math.round(p.bed_depth_mm)} mm deep</span></li>
        <li><span>Round the bed</span><span className="figure">{Math.round(100 * p.bypass_fraction)} %</span></li>
        <li><span>Hottest slurry</span><span className="figure">{Math.round(p.slurry_c)} °C</span></li>
      </ul>
      <ul className="findings">
        {plan.notes.map((n) => <Finding key={n.title} kind={n.kind} title={n.title} detail={n.detail} />)}
      </ul>
      <details style={{ borderTop: "1px solid var(--hairline)", paddingTop: 10, fontSize: 13 }}>
        <summary style={{ cursor: "pointer", color: "var(--ink-2)" }}>What is assumed</summary>
        <ul style={{ paddingLeft: 18, color: "var(--ink-2)" }}>{p.assumptions.map((a) => <li key={a}>{a}</li>)}</ul>
      </details>
      <p className="quiet" style={{ marginTop: 12 }}>
        Hot water and steam scald; warm glass before boiling water meets it. This is brewing guidance only.
      </p>
    </aside>
  );
}
