import { Modal } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router-dom";
import { useActions, useStationActions } from "../../app/actions";
import { useDraft } from "../../api/drafts";
import { grindOf, useAskForPreview, usePlanPreview, usePlanWrites, useSettingSteps } from "../../api/plans";
import { useWorkbench, useChangeWorkbench } from "../../api/workbench";
import { LevelChart } from "../../charts/LevelChart";
import { isBeside, settingText, Trouble, troubleWith, Typed, Waiting, QueryBoundary } from "../../ui/parts";
import { DraftSign } from "../../ui/DraftSign";
import { useLastGood } from "../../ui/useLastGood";
import { useSettled } from "../../ui/useSettled";
import { Choices } from "./Choices";
import { Matching } from "./Matching";
import { stepActions } from "../../ui/SettingStep";
import { GrindAtHand } from "./GrindAtHand";
import { PlanMargin } from "./PlanMargin";
import { PourTable } from "./PourTable";
import { Recipes } from "./Recipes";
import { TargetTime } from "./TargetTime";
import {
  dropsOwnPours,
  FIRST,
  fieldsOf,
  movedPour,
  overwritten,
  recipeOf,
  withAmount,
  type Amount,
  type Fields,
} from "./recipe";
import type { Quantity } from "../../ui/units";
import { TypedQuantity } from "../../ui/TypedQuantity";
import { useUnits } from "../../ui/useUnits";
import { useQuestion } from "../../ui/useQuestion";
import "./plan.css";
import { WORDS } from "./words";

const TEXT = WORDS.planStation;

const SETTLE_MS = 40;

const AMOUNTS: [Amount, string, Quantity | undefined, string][] = [
  ["dose", "Coffee", "mass", "dose_g"],
  ["ratio", TEXT.toWater1, undefined, "ratio"],
  ["water", "Water", "mass", "water_g"],
  ["cup", TEXT.inTheCup, "mass", "cup_g"],
];

const SHOWN_BESIDE = [...AMOUNTS.map(([, , , field]) => field), "water_c", "target_time_s"];

/** Station 3: what do I brew, with what pours? */
export default function PlanStation() {
  const bench = useWorkbench();
  const kept = bench.data?.plan?.recipe;
  const work = useDraft<Fields>("plan", bench.data && `pass ${bench.data.id ?? 0}`);
  const setFields = work.keep;
  const shown = work.draft ? { ...FIRST, ...work.draft } : kept ? fieldsOf(kept) : FIRST;
  const settled = JSON.parse(useSettled(JSON.stringify(shown), SETTLE_MS)) as Fields;
  const at = bench.data;
  const grind = grindOf(at);
  const preview = usePlanPreview(settled, recipeOf, grind, bench.isSuccess && !work.pending);
  const askForPreview = useAskForPreview(recipeOf, grind);
  const { save: savePlan } = usePlanWrites();
  const written = useUnits();
  const { units } = written;
  const { question, ask } = useQuestion(written);
  const [modal, confirming] = Modal.useModal();
  const navigate = useNavigate();
  const { notify } = useActions();
  const [error, setError] = useState<unknown>(null);
  const [tabled, setTabled] = useState(false);
  const [open, setOpen] = useState<"matching" | "recipes" | null>(null);
  const change = useChangeWorkbench();
  const trouble = preview.error ?? error;
  const plan = useLastGood(preview.data);
  const shownBeside = [...SHOWN_BESIDE, ...Object.keys(shown.options).map((name) => `options.${name}`)];

  async function keep(to?: string) {
    try {
      // What was typed last may not have been looked at yet.
      const { unlikely } = await askForPreview(shown);
      ask(unlikely, () => void save(to));
    } catch (refusal) {
      setError(refusal);
    }
  }
  async function save(to?: string) {
    try {
      await savePlan(grind.pass, recipeOf(shown));
      setError(null);
      await work.discard();
      if (to) navigate(to);
      else notify(at?.state === "planned" ? TEXT.planSaved : TEXT.savedAsAnother);
    } catch (refusal) {
      setError(refusal);
    }
  }
  const steps = useSettingSteps(preview.data?.recipe, grind, Boolean(at?.grinder?.setting) && !preview.isFetching);
  /** Another setting of the grinder at hand; a plan that was begun keeps its own, and a new one is made. */
  const turn = async (setting: string) => {
    const before = at?.grinder?.setting;
    await change.mutateAsync({ grinder_id: at?.grinder?.id, setting });
    if (before && at?.state === "planned")
      notify(TEXT.setTo(settingText(setting)), () =>
        change.mutateAsync({ grinder_id: at.grinder!.id, setting: before }),
      );
  };
  const ready = Boolean(plan) && !preview.error;
  // The first answer is waited for; later ones are asked for when something is done.
  const waits = !plan && !preview.error;
  useStationActions(plan ? settingText(plan.grind.source) : "", [
    { key: "C", label: TEXT.recordABrewOfIt, run: () => void keep("/cup"), disabled: !ready, waits },
    ...stepActions(steps.data, (setting) => void turn(setting)),
    { key: "M", label: TEXT.whatSuitsWhat, run: () => setOpen("matching"), disabled: !ready },
    { key: "R", label: TEXT.recipes, run: () => setOpen("recipes"), disabled: !ready },
    { key: "K", label: TEXT.saveThePlan, run: () => void keep(), disabled: !ready, waits },
    // A plan that is being brewed is gone back to; only one that was changed is another brew.
    at?.state === "brewing" && !work.draft
      ? { key: "Space", label: TEXT.backToTheBrew, main: true, run: () => navigate("/brew") }
      : { key: "Space", label: TEXT.brewIt, main: true, run: () => void keep("/brew"), disabled: !ready, waits },
  ]);
  const set = (change: Partial<Fields>) => setFields({ ...shown, ...change });
  /** Pours set by hand are dropped only when that is meant; what else a change takes with it is said, and can be taken back. */
  function replace(next: Fields) {
    if (dropsOwnPours(shown, next)) {
      modal.confirm({
        title: TEXT.replaceThePoursYouSet,
        content: TEXT.theStyleMakesItsOwnPoursFor,
        okText: TEXT.toUseTheStylesPours,
        cancelText: TEXT.keepMine,
        onOk: () => take(next),
      });
    } else take(next);
  }
  function take(next: Fields) {
    const lost = overwritten(shown, next, units);
    setFields(next);
    if (lost) notify(lost, () => setFields(shown));
  }
  function discardDraft() {
    const thrown = shown;
    void work.discard();
    notify(TEXT.draftDiscarded, () => setFields(thrown));
  }
  /** An amount that follows from the two given ones. */
  function followed(name: Amount): string {
    if (!plan || preview.error) return "";
    const of = { dose: plan.document.dose_g, ratio: plan.ratio, water: plan.water_g, cup: plan.cup_g };
    return name === "ratio"
      ? String(Math.round(of.ratio * 10) / 10)
      : name === "dose"
        ? String(Math.round(of.dose * 10) / 10)
        : String(Math.round(of[name]));
  }

  return (
    <QueryBoundary query={bench}>
      <div className="station-page">
        <div
          className="thing plan-thing"
          aria-busy={preview.isFetching || JSON.stringify(settled) !== JSON.stringify(shown)}
        >
          <div className="amounts">
            {AMOUNTS.map(([name, label, what, field]) => {
              const shared = {
                label,
                value: shown.given.includes(name) ? shown[name] : followed(name),
                onChange: (value: string) => replace(withAmount(shown, name, value)),
                trouble: troubleWith(trouble, field),
              };
              return (
                <div key={name} className={shown.given.includes(name) ? undefined : "follows"}>
                  {what ? <TypedQuantity {...shared} what={what} /> : <Typed {...shared} />}
                </div>
              );
            })}
            <TypedQuantity
              label={TEXT.waterAt}
              value={shown.heat}
              what="heat"
              onChange={(heat) => set({ heat })}
              trouble={troubleWith(trouble, "water_c")}
            />
          </div>
          <Choices
            fields={shown}
            set={(change) => replace({ ...shown, ...change })}
            backToStyle={() => {
              const own = shown;
              set({ pours: null, changed: {} });
              notify(TEXT.theStylesPours, () => setFields(own));
            }}
            offBoilMin={plan?.off_boil_min}
            bedMm={plan?.prediction.bed_depth_mm ?? 20}
            trouble={trouble}
          >
            <button className="link" aria-expanded={tabled} onClick={() => setTabled(!tabled)}>
              {tabled ? TEXT.closeThePourTable : TEXT.poursAsATable}
            </button>
            {!plan?.document.steep && (
              <TargetTime
                value={shown.targetTime}
                found={preview.error ? null : plan?.for_time}
                setting={plan?.grind.setting}
                trouble={troubleWith(trouble, "target_time_s")}
                take={(targetTime) => set({ targetTime })}
                turn={(setting) => void turn(setting)}
              />
            )}
          </Choices>
          <div className="plan-chart" data-old={(preview.isFetching && preview.isPlaceholderData) || undefined}>
            {plan ? (
              <LevelChart
                document={plan.document}
                prediction={plan.prediction}
                pours={shown.pours}
                move={(index, endS, totalG) =>
                  set({
                    pours: movedPour(
                      shown.pours ?? plan.document.pours!,
                      plan.prediction.pour_starts_s,
                      index,
                      endS,
                      totalG,
                    ),
                  })
                }
              />
            ) : preview.error ? (
              <div className="plan-waiting">
                <Trouble error={preview.error} />
              </div>
            ) : (
              <div className="plan-waiting">
                <Waiting>{TEXT.workingItOut}</Waiting>
              </div>
            )}
          </div>
          {tabled && plan && (
            <PourTable
              plan={plan}
              pours={shown.pours}
              actions={shown.changed.actions}
              set={({ pours, actions }) => set({ pours, changed: { ...shown.changed, actions } })}
            />
          )}
          {trouble != null && (plan || trouble === error) && !isBeside(trouble, shownBeside) && (
            <div className="plan-trouble">
              <Trouble error={trouble} />
            </div>
          )}
          <div className="plan-foot">
            <p className="quiet">
              {preview.error && plan
                ? TEXT.theChartShowsTheLastPlanThat
                : at?.state === "brewing"
                  ? TEXT.begun
                  : at && at.state !== "planned"
                    ? TEXT.brewed
                    : plan?.reason}
            </p>
            {work.draft && <DraftSign words={TEXT.draftNotSaved} act="Discard draft" run={discardDraft} />}
            {work.other && (
              <DraftSign
                words={TEXT.yourDraftOfAnEarlierPlanIs}
                act="Go on with it"
                run={() => setFields({ ...FIRST, ...work.other })}
              />
            )}
          </div>
        </div>
        {plan && (
          <PlanMargin plan={plan} takeHeat={(celsius) => set({ heat: String(celsius) })}>
            {at?.grinder && <GrindAtHand key={at.grinder.id} grinder={at.grinder} steps={steps.data} turn={turn} />}
          </PlanMargin>
        )}
      </div>
      {question}
      {confirming}
      <Matching
        open={open === "matching"}
        close={() => setOpen(null)}
        recipe={recipeOf(settled)}
        take={(setting) => void turn(setting)}
        change={(part) => replace(fieldsOf({ ...recipeOf(shown), ...part, pours: null }))}
      />
      <Recipes
        open={open === "recipes"}
        close={() => setOpen(null)}
        recipe={recipeOf(settled)}
        use={(recipe) => replace(fieldsOf(recipe))}
      />
    </QueryBoundary>
  );
}
