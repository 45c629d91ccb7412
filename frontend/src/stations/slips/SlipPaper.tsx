import { Checkbox } from "antd";
import type { Schemas } from "../../api/client";
import { endingWords } from "../../ui/steeps";
import { MiniCurve } from "../../charts/MiniCurve";
import { Setting } from "../../ui/parts";
import { howGround, clock } from "../../ui/words";
import { dayAndTime, fullDate } from "../../ui/dates";
import { useUnits } from "../../ui/useUnits";
import { WORDS } from "./words";

const TEXT = WORDS.slipPaper;

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
  const lit = (field: string) => (s.changed.includes(field) && !first ? TEXT.figureChanged : "figure");
  const taste = Object.entries(s.taste)
    .sort((a, b) => b[1] - a[1])
    .map(([w, n]) => `${STRENGTHS[n] ?? ""}${w}`)
    .join(", ");
  // On paper the date reads as on the screen: by this device's language and zone.
  const dated = encodeURIComponent(fullDate(s.created_at));
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
              {TEXT.slip} {s.number}
              {best && <span className="best"> {TEXT.bestSoFar}</span>}
            </strong>
            <span className="quiet">{dayAndTime(s.created_at)}</span>
          </header>
          <ul className="rows">
            <li>
              <span>{s.grinder ?? TEXT.grind}</span>
              <span
                className={
                  s.changed.includes("grinder") || s.changed.includes("setting")
                    ? lit(s.changed.includes("setting") ? "setting" : "grinder")
                    : "figure"
                }
              >
                {s.setting ? <Setting value={s.setting} /> : howGround(s)}
              </span>
            </li>
            <li>
              <span>{TEXT.coffee}</span>
              <span className={lit("dose_g")}>{mass(s.dose_g, 1)}</span>
            </li>
            <li>
              <span>{TEXT.water}</span>
              <span className={lit("water_g")}>{mass(s.water_g)}</span>
            </li>
            {s.added_g != null && (
              <li>
                <span>{TEXT.waterAdded}</span>
                <span className="figure">{mass(s.added_g)}</span>
              </li>
            )}
            {s.held_back_g != null && (
              <li>
                <span>{TEXT.heldBack}</span>
                <span className="figure">{mass(s.held_back_g)}</span>
              </li>
            )}
            {s.style && (
              <li>
                <span>{TEXT.style}</span>
                <span className="words">{s.pours ? TEXT.stylePours(s.style, s.pours) : s.style}</span>
              </li>
            )}
            <li>
              <span>{TEXT.heat}</span>
              <span className={lit("water_c")}>{heat(s.water_c)}</span>
            </li>
            <li>
              <span>{s.ending ? endingWords(s.ending).field : TEXT.bareBed}</span>
              <span className="figure">
                {s.drawdown_measured ? "" : "~"}
                {clock(s.drawdown_s)}
                {s.drawdown_half_s != null && <span className="quiet"> ±{Math.round(s.drawdown_half_s)} s</span>}
              </span>
            </li>
            {!s.ending && s.last_drip_s != null && (
              <li>
                <span>{TEXT.lastDrip}</span>
                <span className="figure">{clock(s.last_drip_s)}</span>
              </li>
            )}
            <li>
              <span>{TEXT.strength}</span>
              <span className="figure">
                {s.tds_measured ? "" : "~"}
                {s.tds_percent.toFixed(2)} %
              </span>
            </li>
            <li>
              <span>{TEXT.extraction}</span>
              <span className="figure">
                {s.tds_measured ? "" : "~"}
                {s.ey_percent.toFixed(1)} %
              </span>
            </li>
          </ul>
          <p className="slip-taste">
            {[
              taste,
              ...s.bed.map((b) => `bed: ${b}`),
              s.stalled && TEXT.stalled,
              s.liked != null && TEXT.liked(s.liked),
            ]
              .filter(Boolean)
              .join(", ") || TEXT.notTasted}
          </p>
          {s.note && <p className="slip-note">{s.note}</p>}
          <MiniCurve size={s.curve_size_um} density={s.curve_density} />
          <div className="slip-figures">
            <span className={s.in_target ? "in-target" : undefined}>
              {s.in_target ? TEXT.inTarget : s.judged || (s.ey_percent > 20 ? TEXT.overTarget : TEXT.outsideTarget)}
            </span>
            {s.drawdown_measured && (
              <span className="quiet" title={TEXT.predicted(clock(s.predicted_drawdown_s))}>
                {TEXT.guessSOff(off)}
              </span>
            )}
          </div>
          <svg className="torn" viewBox="0 0 224 9" preserveAspectRatio="none" aria-hidden="true">
            <path d={TORN} />
          </svg>
        </button>
        <div className="slip-links">
          <Checkbox checked={beside} onChange={putBeside} aria-label={TEXT.compareSlip(s.number)}>
            {TEXT.compare}
          </Checkbox>
          <a className="link" href={`/api/slips/${s.id}/paper/pdf?dated=${dated}`} download>
            {TEXT.print}
          </a>
          <a className="link" href={`/api/slips/${s.id}/paper/png?dated=${dated}`} download>
            {TEXT.picture}
          </a>
          <a className="link" href={`/api/slips/${s.id}/paper/json`} download>
            {TEXT.file}
          </a>
        </div>
      </div>
    </>
  );
}
