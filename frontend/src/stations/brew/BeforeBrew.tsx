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
import { WORDS } from "./words";

const TEXT = WORDS.beforeBrew;

const LONG_S = 1200;
const PRACTICE_S = 60;

type ScaleKey = NonNullable<Schemas["StartBrew"]["scale"]>;

/** Before the first pour: what lies in the brewer, what it stands on, and what to see to. */
export function BeforeBrew({
  passId,
  plan,
  usual,
}: {
  passId: number | null;
  plan: Schemas["PlanView"];
  usual: string;
}) {
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
  // Hours in about a minute, so that a cold brew can be practised too; quicker, nobody would tap its end in time.
  const pace = p.last_drip_s > LONG_S ? Math.ceil(p.last_drip_s / PRACTICE_S) : 10;

  async function start() {
    wakeSound();
    try {
      await writes.start(passId, {
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
      await writes.readLog(passId, file);
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  useStationActions(`${plan.brewer_label}, ${chosen?.label.toLowerCase() ?? TEXT.byHand}`, [
    { key: "W", label: TEXT.brewsBehindThePrediction, run: () => setFit(true) },
    { key: "Space", label: TEXT.firstPourStart, main: true, run: () => void start() },
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
                ? TEXT.firstFillTheCupToTheMarkCup
                : first?.bloom
                  ? TEXT.firstBloomPourTo
                  : TEXT.firstPourTo}
            </div>
            <button className="figure brew-huge" onClick={() => void start()}>
              {first?.mark != null ? (
                TEXT.ofWord(first.mark, first.marks)
              ) : (
                <>
                  {units.massFigure(first?.total_g ?? 0)}
                  <span>{units.units.mass}</span>
                </>
              )}
            </button>
            <div className="brew-line">{TEXT.asYouStartToPour(touch)}</div>
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
      <Margin label={TEXT.beforeTheFirstPour}>
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
              label={TEXT.weighedInTheBrewer}
              value={dose}
              onChange={setDose}
              trouble={troubleWith(error, "dose_g")}
            />
            <p className="said above-s">{TEXT.plannedAnotherDoseRescales(units.dose(plan.document.dose_g))}</p>
          </>
        )}
        <h2>{TEXT.followedBy}</h2>
        <Choice
          label={TEXT.whatStandsUnderIt}
          className="scale-choice"
          options={(scales.data ?? []).map((s) => ({ value: s.key as ScaleKey, label: s.label, hint: s.words }))}
          value={scale}
          choose={setScale}
        />
        <p className="said above-s">{chosen?.words}</p>
        {scale === "replay" && (
          <label className="link file-link">
            {log ? log.name : TEXT.chooseTheCsvFile}
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
            {TEXT.timesAsFast(pace === 10, pace)}
          </Checkbox>
        )}
        <Checklist checks={plan.checks} />
        <p className="quiet above-m">
          {isHot(plan.document)
            ? TEXT.waterAtScaldsWetHandlesSlip(units.heat(plan.document.water_c ?? 93))
            : TEXT.cleanVesselsCleanHandsKeep}
        </p>
        <p className="quiet above-m">
          {plan.document.steep ? TEXT.atAbout(capital(endingWords(plan.document.steep.ending).done)) : TEXT.bareAtAbout}{" "}
          {clock(p.drawdown_s)},{" "}
          {p.fitted_on_brews ? TEXT.restingOnOfYourBrews(p.fitted_on_brews) : TEXT.notYetFittedToYourBrews}.{" "}
          <label className="link file-link">
            {TEXT.importALog}
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
