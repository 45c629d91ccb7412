import { Modal } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router-dom";
import { useActions, useStationActions } from "../../app/actions";
import { useDraft } from "../../api/drafts";
import { grindOf, useAskForPreview, usePlanPreview, usePlanWrites, useSettingSteps } from "../../api/plans";
import { useWorkbench, useChangeWorkbench } from "../../api/workbench";
import { LevelChart } from "../../charts/LevelChart";
import { isBeside, settingText, Trouble, troubleWith, Waiting, QueryBoundary } from "../../ui/parts";
import { DraftSign } from "../../ui/DraftSign";
import { useLastGood } from "../../ui/useLastGood";
import { useSettled } from "../../ui/useSettled";
import { Choices } from "./Choices";
import { Matching } from "./Matching";
import { stepActions } from "../../ui/SettingStep";
import { AmountField } from "./AmountField";
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
  recipeOf,
  replacedBy,
  samePours,
  withAmount,
  withoutAmount,
  type Amount,
  type Fields,
  type Replaced,
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
  const { notify, remember } = useActions();
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
  const [error, setError] = useState<unknown>(null);
  const [tabled, setTabled] = useState(false);
  const [replaced, setReplaced] = useState<Replaced[]>([]);
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
  /** Every change is an act of its own, that Z takes back; typing in one field is one. */
  function setFields(next: Fields, act: string, words: string) {
    const before = work.draft ? shown : null;
    work.keep(next);
    const back = () => (before ? work.keep(before) : void work.discard());
    remember(act, words, back, () => work.keep(next));
  }
  const set = (change: Partial<Fields>) => {
    const [name = ""] = Object.keys(change);
    setFields({ ...shown, ...change }, name, "pours" in change ? TEXT.acts.pours : TEXT.acts.choice);
  };
  // Own pours as they are for the amounts of now; while they are being moved, as the hand has them.
  const pours = plan && shown.pours && !samePours(plan.recipe.pours, shown.pours) ? shown.pours : null;
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
    setReplaced(replacedBy(shown, next, units));
    setFields(next, "choice", TEXT.acts.choice);
  }
  function discardDraft() {
    const thrown = shown;
    void work.discard();
    notify(TEXT.draftDiscarded, () => work.keep(thrown));
  }
  /** Amounts as they are by the plan that is shown: what follows from the two given ones. */
  const followed: Record<Amount, string> = !plan
    ? { dose: "", ratio: "", water: "", cup: "" }
    : {
        dose: String(Math.round(plan.document.dose_g * 10) / 10),
        ratio: String(Math.round(plan.ratio * 10) / 10),
        water: String(Math.round(plan.water_g)),
        cup: String(Math.round(plan.cup_g)),
      };
  function typeAmount(name: Amount, text: string) {
    const next = text.trim() ? withAmount(shown, name, text) : withoutAmount(shown, name, followed);
    if (next !== shown) setFields(next, name, TEXT.acts.amount);
  }

  return (
    <QueryBoundary query={bench}>
      <div className="station-page">
        <div
          className="thing plan-thing"
          aria-busy={preview.isFetching || JSON.stringify(settled) !== JSON.stringify(shown)}
        >
          <div className="amounts">
            {AMOUNTS.map(([name, label, what, field]) => (
              <AmountField
                key={name}
                label={label}
                what={what}
                given={shown.given.includes(name)}
                value={shown.given.includes(name) ? shown[name] : preview.error ? "" : followed[name]}
                follows={followed[name]}
                type={(text) => typeAmount(name, text)}
                trouble={troubleWith(trouble, field)}
              />
            ))}
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
              work.keep({ ...shown, pours: null, pouredDose: null, changed: {} });
              notify(TEXT.theStylesPours, () => work.keep(own));
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
          {replaced.length > 0 && (
            <p className="plan-replaced" role="status">
              {TEXT.theStyleStartsWith(
                replaced
                  .map((r) => r.now)
                  .filter(Boolean)
                  .join(", "),
              )}{" "}
              {replaced.map((r) => (
                <button
                  key={r.words}
                  className="chip"
                  onClick={() => {
                    setFields(r.keep(shown), `keep ${r.words}`, TEXT.keepTyped(r.words));
                    setReplaced(replaced.filter((other) => other !== r));
                  }}
                >
                  {TEXT.keepTyped(r.words)}
                </button>
              ))}
            </p>
          )}
          <div className="plan-chart" data-old={(preview.isFetching && preview.isPlaceholderData) || undefined}>
            {plan ? (
              <LevelChart
                document={plan.document}
                prediction={plan.prediction}
                pours={pours}
                move={(index, endS, totalG) =>
                  set({
                    pours: movedPour(pours ?? plan.document.pours!, plan.prediction.pour_starts_s, index, endS, totalG),
                    pouredDose: plan.document.dose_g,
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
              pours={pours}
              actions={shown.changed.actions}
              set={({ pours, actions }) =>
                set({ pours, pouredDose: plan.document.dose_g, changed: { ...shown.changed, actions } })
              }
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
                run={() => work.keep({ ...FIRST, ...work.other })}
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
