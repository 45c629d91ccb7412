import { Checkbox } from "antd";
import type { Schemas } from "../../api/client";
import { endingWords } from "../../ui/steeps";
import { MiniCurve } from "../../charts/MiniCurve";
import { Setting } from "../../ui/parts";
import { byPhoto, clock, when } from "../../ui/words";
import { useUnits } from "../../ui/useUnits";

const TORN =
  "M0.5 0" + Array.from({ length: 16 }, (_, i) => `L${0.5 + (i + 0.5) * 13.94} 8L${0.5 + (i + 1) * 13.94} 1`).join("");
const STRENGTHS = ["", "a little ", "", "very "];

interface Props {
  slip: Schemas["SlipView"];
  first: boolean;
  chosen: boolean;
  choose: () => void;
  best: boolean;
  beside: boolean;
  putBeside: () => void;
}

/** One pass on one weighing slip; what changed since the slip before stands beside it and is lit on it. */
export function SlipPaper({ slip: s, first, chosen, choose, best, beside, putBeside }: Props) {
  const { mass, heat } = useUnits();
  const lit = (field: string) => (s.changed.includes(field) && !first ? "figure changed" : "figure");
  const taste = Object.entries(s.taste)
    .sort((a, b) => b[1] - a[1])
    .map(([w, n]) => `${STRENGTHS[n] ?? ""}${w}`)
    .join(", ");
  const off = Math.round(Math.abs(s.drawdown_s - s.predicted_drawdown_s));
  return (
    <>
      {!first && (
        <div className="slip-step">
          {s.changed_words}
          <svg
            width="46"
            height="14"
            viewBox="0 0 46 14"
            fill="none"
            stroke="currentColor"
            strokeWidth="2"
            strokeLinecap="round"
            aria-hidden="true"
          >
            <path d="M1 7h42M37 1.5 44 7l-7 5.5" />
          </svg>
        </div>
      )}
      <div className="slip-and-links">
        <button className="slip" aria-pressed={chosen} onClick={choose} data-testid={`slip-${s.number}`}>
          <header>
            <strong>
              Slip {s.number}
              {best && <span className="best"> best so far</span>}
            </strong>
            <span className="quiet">{when(s.created_at)}</span>
          </header>
          <ul className="rows">
            <li>
              <span>{s.grinder ?? "Grind"}</span>
              <span
                className={
                  s.changed.includes("grinder") || s.changed.includes("setting")
                    ? lit(s.changed.includes("setting") ? "setting" : "grinder")
                    : "figure"
                }
              >
                {s.setting ? <Setting value={s.setting} /> : byPhoto(s)}
              </span>
            </li>
            <li>
              <span>Coffee</span>
              <span className={lit("dose_g")}>{mass(s.dose_g, 1)}</span>
            </li>
            <li>
              <span>Water</span>
              <span className={lit("water_g")}>{mass(s.water_g)}</span>
            </li>
            <li>
              <span>Heat</span>
              <span className={lit("water_c")}>{heat(s.water_c)}</span>
            </li>
            <li>
              <span>{s.ending ? endingWords(s.ending).field : "Bare bed"}</span>
              <span className="figure">
                {s.drawdown_measured ? "" : "~"}
                {clock(s.drawdown_s)}
              </span>
            </li>
            <li>
              <span>Strength</span>
              <span className="figure">
                {s.tds_measured ? "" : "~"}
                {s.tds_percent.toFixed(2)} %
              </span>
            </li>
            <li>
              <span>Extraction</span>
              <span className="figure">
                {s.tds_measured ? "" : "~"}
                {s.ey_percent.toFixed(1)} %
              </span>
            </li>
          </ul>
          <p className="slip-taste">
            {[taste, ...s.bed.map((b) => `bed: ${b}`)].filter(Boolean).join(", ") || "not tasted"}
          </p>
          {s.note && <p className="slip-note">{s.note}</p>}
          <MiniCurve size={s.curve_size_um} density={s.curve_density} />
          <div className="slip-figures">
            <span className={s.in_target ? "in-target" : undefined}>
              {s.in_target ? "in target" : s.ey_percent > 20 ? "over target" : "outside target"}
            </span>
            {s.drawdown_measured && (
              <span className="quiet" title={`predicted ${clock(s.predicted_drawdown_s)}`}>
                guess {off}&nbsp;s off
              </span>
            )}
          </div>
          <svg className="torn" viewBox="0 0 224 9" preserveAspectRatio="none" aria-hidden="true">
            <path d={TORN} />
          </svg>
        </button>
        <div className="slip-links">
          <Checkbox checked={beside} onChange={putBeside} aria-label={`Compare slip ${s.number}`}>
            compare
          </Checkbox>
          <a className="link" href={`/api/slips/${s.id}/paper/pdf`} download>
            print
          </a>
          <a className="link" href={`/api/slips/${s.id}/paper/png`} download>
            picture
          </a>
          <a className="link" href={`/api/slips/${s.id}/paper/json`} download>
            file
          </a>
        </div>
      </div>
    </>
  );
}
