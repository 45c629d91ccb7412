import { Checkbox } from "antd";
import { useState } from "react";
import { useStationActions } from "../../app/actions";
import { typed, type Schemas } from "../../api/client";
import { useBrewWrites, useScales } from "../../api/brews";
import { isBeside, Trouble, troubleWith } from "../../ui/parts";
import { endingWords } from "../../ui/steeps";
import { capital, clock, isHot } from "../../ui/words";
import { BrewerDrawing } from "./BrewerDrawing";
import { BrewTrace } from "./BrewTrace";
import { Checklist } from "./Checklist";
import { wakeSound } from "./cues";
import { FitDialog } from "./FitDialog";
import { nextWords } from "./present";
import { TypedQuantity } from "../../ui/TypedQuantity";
import { useUnits } from "../../ui/useUnits";
import { Margin } from "../../ui/Margin";
import { useTouch } from "../../ui/useMedia";
import { Choice } from "../../ui/Choice";

const LONG_S = 1200;

type ScaleKey = NonNullable<Schemas["StartBrew"]["scale"]>;

/** Before the first pour: what lies in the brewer, what it stands on, and what to see to. */
export function BeforeBrew({ plan, usual }: { plan: Schemas["PlanView"]; usual: string }) {
  const units = useUnits();
  const scales = useScales();
  const writes = useBrewWrites();
  const [dose, setDose] = useState(String(plan.document.dose_g));
  const [scale, setScale] = useState<ScaleKey>(plan.document.by_marks ? "none" : (usual as ScaleKey));
  const touch = useTouch();
  const [fast, setFast] = useState(false);
  const [log, setLog] = useState<{ name: string; text: string } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [fit, setFit] = useState(false);
  const chosen = scales.data?.find((s) => s.key === scale);
  const p = plan.prediction;
  // Hours in about a minute, so that a cold brew can be practised too.
  const pace = p.last_drip_s > LONG_S ? Math.ceil(p.last_drip_s / 60) : 10;

  async function start() {
    wakeSound();
    try {
      await writes.start({
        scale,
        speed: fast && scale !== "none" ? pace : 1,
        log_csv: scale === "replay" ? (log?.text ?? null) : null,
        dose_g: dose.trim() ? typed(dose) : null,
      });
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  async function importLog(file: File) {
    try {
      await writes.readLog(file);
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  useStationActions(`${plan.brewer_label}, ${chosen?.label.toLowerCase() ?? "by hand"}`, [
    { key: "W", label: "Brews behind the prediction", run: () => setFit(true) },
    { key: "Space", label: "First pour: start", main: true, run: () => void start() },
  ]);
  const first = plan.steps.find((s) => s.kind === "pour");
  const beside = error != null && isBeside(error, ["dose_g", "log_csv", "log"]);
  return (
    <div className="station-page">
      <div className="thing brew-thing">
        <div className="brew-stage">
          <BrewerDrawing
            vessel={plan.vessel}
            bedMm={p.bed_depth_mm}
            levelMm={0}
            targetMm={null}
            highestMm={Math.max(...p.series.level_mm)}
            from={null}
            steeps={Boolean(plan.document.steep)}
          />
          <div className="brew-words">
            <div className="brew-above">
              {first?.mark != null
                ? "First, fill the cup to the mark: cup"
                : first?.bloom
                  ? "First, bloom: pour to"
                  : "First, pour to"}
            </div>
            <div className="figure brew-huge">
              {first?.mark != null ? (
                `${first.mark} of ${first.marks}`
              ) : (
                <>
                  {units.massFigure(first?.total_g ?? 0)}
                  <span>{units.units.mass}</span>
                </>
              )}
            </div>
            <div className="brew-line">{touch ? "Tap" : "Press Space"} as you start to pour.</div>
            <div className="brew-next">
              {nextWords(
                plan.steps.filter((s) => s.kind !== "swirl" && s.kind !== "stir" && s.kind !== "stir-back"),
                0,
                units,
              )}
            </div>
            {error != null && !beside && <Trouble error={error} />}
          </div>
        </div>
        <BrewTrace
          prediction={p}
          ending={plan.document.steep?.ending}
          elapsed={null}
          t_s={[]}
          weight_g={[]}
          standing={null}
        />
      </div>
      <Margin label="Before the first pour">
        {plan.document.by_marks ? (
          plan.by_hand.map((line) => (
            <p key={line} className="said">
              {line}
            </p>
          ))
        ) : (
          <>
            <TypedQuantity
              small
              what="mass"
              label="Weighed in the brewer"
              value={dose}
              onChange={setDose}
              trouble={troubleWith(error, "dose_g")}
            />
            <p className="said above-s">
              Planned {units.dose(plan.document.dose_g)}; another dose rescales the pours, the ratio stays.
            </p>
          </>
        )}
        <h2>Followed by</h2>
        <Choice
          label="What stands under it"
          className="scale-choice"
          options={(scales.data ?? []).map((s) => ({ value: s.key as ScaleKey, label: s.label, hint: s.words }))}
          value={scale}
          choose={setScale}
        />
        <p className="said above-s">{chosen?.words}</p>
        {scale === "replay" && (
          <label className="link file-link">
            {log ? log.name : "Choose the CSV file"}
            <input
              type="file"
              accept=".csv,text/csv"
              onChange={async (e) => {
                const f = e.target.files?.[0];
                if (f) setLog({ name: f.name, text: await f.text() });
              }}
            />
          </label>
        )}
        {(troubleWith(error, "log_csv") ?? troubleWith(error, "log")) ? (
          <p className="trouble-line" role="alert">
            {troubleWith(error, "log_csv") ?? troubleWith(error, "log")}
          </p>
        ) : null}
        {scale !== "none" && (
          <Checkbox checked={fast} onChange={(e) => setFast(e.target.checked)}>
            {pace === 10 ? "ten" : pace} times as fast
          </Checkbox>
        )}
        <Checklist checks={plan.checks} />
        <p className="quiet above-m">
          {isHot(plan.document)
            ? `Water at ${units.heat(plan.document.water_c ?? 93)} scalds, wet handles slip; keep clear of the steam.`
            : "Clean vessels, clean hands; keep it cold once it is drawn off."}
        </p>
        <p className="quiet above-m">
          {plan.document.steep ? `${capital(endingWords(plan.document.steep.ending).done)} at about` : "Bare at about"}{" "}
          {clock(p.drawdown_s)},{" "}
          {p.fitted_on_brews ? `resting on ${p.fitted_on_brews} of your brews` : "not yet fitted to your brews"}.{" "}
          <label className="link file-link">
            Import a log
            <input
              type="file"
              accept=".csv,text/csv"
              onChange={(e) => {
                const f = e.target.files?.[0];
                if (f) void importLog(f);
              }}
            />
          </label>
        </p>
      </Margin>
      <FitDialog open={fit} close={() => setFit(false)} />
    </div>
  );
}
