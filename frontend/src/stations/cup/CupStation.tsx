import { useMemo, useState, useEffect } from "react";
import { useNavigate } from "react-router-dom";
import { type Schemas } from "../../api/client";
import { useCupPreview } from "../../api/cups";
import { useSlip } from "../../api/slips";
import { useToldCup } from "../../api/passes";
import { grindOf, useSettingSteps } from "../../api/plans";
import { useSlipWrites } from "../../api/slips";
import { useChangeWorkbench, useWorkbench } from "../../api/workbench";
import { useStationActions, useActions } from "../../app/actions";
import { StrengthChart } from "../../charts/StrengthChart";
import { DraftSign } from "../../ui/DraftSign";
import { QueryBoundary, Waiting, isBeside, Trouble } from "../../ui/parts";
import { SettingStep, stepActions } from "../../ui/SettingStep";
import { useLastGood } from "../../ui/useLastGood";
import { useQuestion } from "../../ui/useQuestion";
import { useSettled } from "../../ui/useSettled";
import { useUnits } from "../../ui/useUnits";
import { clock } from "../../ui/words";
import { Alternatives } from "./Alternatives";
import { Evidence } from "./Evidence";
import { Since } from "./Since";
import { TheChange } from "./TheChange";
import { WhatItWas } from "./WhatItWas";
import { changeOf, draftOf, entryOf, firstOf, type CupDraft } from "./told";
import "./cup.css";
import { WORDS } from "./words";

const TEXT = WORDS.cupStation;

const SETTLE_MS = 250;

const SHOWN_BESIDE = [
  "drawdown_s",
  "last_drip_s",
  "tds_percent",
  "drink_g",
  "spent_dry_g",
  "added_water_g",
  "held_back_g",
];

/** Station 5: how did it come out, what do I change? */
export default function CupStation() {
  const bench = useWorkbench();
  const slipId = bench.data?.slip?.id;
  const slip = useSlip(slipId);
  if (bench.data && !bench.data.plan) return <NoPlan />;
  return (
    <QueryBoundary query={bench}>
      {slipId !== undefined && slip.isPending ? (
        <div className="empty">
          <Waiting>{TEXT.fetching}</Waiting>
        </div>
      ) : (
        bench.data && <Cup key={`${bench.data.id}/${bench.data.brew?.id ?? ""}`} bench={bench.data} slip={slip.data} />
      )}
    </QueryBoundary>
  );
}

function NoPlan() {
  const navigate = useNavigate();
  useStationActions("", [{ key: "Space", label: TEXT.makeAPlan, main: true, run: () => navigate("/plan") }]);
  return (
    <div className="empty">
      <h1>{TEXT.noBrewToJudgeYet}</h1>
      <p>{TEXT.planABrewAndPourItThenTap}</p>
    </div>
  );
}

function Cup({ bench, slip }: { bench: Schemas["WorkbenchView"]; slip?: Schemas["SlipDetail"] }) {
  const ending = bench.plan?.ending ?? null;
  // Only another slip or brew says something new; the bench is fetched again all the time.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const first = useMemo(() => firstOf(bench, slip), [slip?.id, slip?.version, bench.brew?.id]);
  const work = useToldCup(bench.id, bench.told);
  const draft = work.told ? draftOf(work.told, first) : first;
  const { told, target, changeFirst, lean } = draft;
  const { notify, remember } = useActions();
  /** Each tap and each field typed in is an act that Z takes back by itself. */
  function set(change: Partial<CupDraft>) {
    const [next, untold] = [{ ...draft, ...change }, !work.told];
    work.tell(changeOf(draft, next, untold));
    remember(
      `cup ${Object.keys(changeOf(draft, next, false)).join()}`,
      TEXT.whatWasTold,
      () => (untold ? void work.discard() : work.tell(changeOf(next, draft, false))),
      () => work.tell(changeOf(draft, next, untold)),
    );
  }
  const [picked, setPicked] = useState(0);
  const entry = JSON.stringify(entryOf(told, target, changeFirst, lean));
  const settled = useSettled(entry, SETTLE_MS);
  const cup = useCupPreview(bench, settled);
  const view = useLastGood(cup.data);
  const slips = useSlipWrites();
  const change = useChangeWorkbench();
  const navigate = useNavigate();
  const { question, ask } = useQuestion(useUnits());
  const [error, setError] = useState<unknown>(null);
  const said =
    told.bare ||
    told.tds ||
    told.bed.length ||
    Object.values({ ...told.taste, ...told.cooled }).some(Boolean) ||
    told.stalled ||
    told.stuck ||
    told.liked ||
    told.spent;
  const trouble = cup.error ?? error;
  const moves = view?.advice.moves ?? [];
  const move = moves[Math.min(picked, moves.length - 1)];
  useEffect(() => setPicked(0), [settled]);

  function discardDraft() {
    const thrown = draft;
    void work.discard();
    notify(TEXT.draftDiscarded, () => work.tell(changeOf(thrown, thrown, true)));
  }
  async function keep(): Promise<Schemas["SlipDetail"] | null> {
    try {
      await work.settled();
      const kept = await slips.keep(bench.id ?? null, {
        ...(JSON.parse(entry) as Schemas["CupEntry"]),
        seen_plan_id: bench.plan?.id ?? null,
        seen_brew_id: bench.brew?.id ?? null,
      });
      setError(null);
      return kept;
    } catch (refusal) {
      setError(refusal);
      return null;
    }
  }
  async function keepOnly() {
    const kept = await keep();
    if (kept) notify(TEXT.slipSaved(kept.number));
  }
  /** Save the cup, and put the earlier slip that was better on the bench with its plan, grinder and setting. */
  async function goBack(slipId: number) {
    const kept = await keep();
    if (!kept) return;
    await change.mutateAsync({ slip_id: slipId });
    navigate("/plan");
  }
  async function brewNext(move: number | "again", setting?: string) {
    const kept = await keep();
    if (!kept) return;
    await slips.brew(kept.id, move, setting);
    navigate("/plan");
  }
  const unlikely = cup.data?.unlikely ?? [];
  const steps = useSettingSteps(bench.plan?.recipe, grindOf(bench)).data;
  const step = (setting: string) => ask(unlikely, () => void brewNext("again", setting));
  // A cup that nobody tasted is kept too; it says so, and nothing is changed by it.
  const current = cup.isSuccess && !cup.isPlaceholderData && settled === entry;
  const waits = cup.error == null && !current;
  const back = picked === 0 ? view?.back : null;
  const again = move?.kind === "repeat" || move?.kind === "none";
  const canBrew = Boolean(said) && current;
  useStationActions(bench.plan ? `${bench.coffee?.name ?? "coffee"}, ${bench.plan.brewer}` : "", [
    {
      key: "K",
      label: slip ? TEXT.saveTheSlipAgain : TEXT.saveTheSlip,
      run: () => ask(unlikely, () => void keepOnly()),
      disabled: cup.error != null,
      waits,
    },
    {
      key: "G",
      label: TEXT.brewItAgainFirst,
      run: () => ask(unlikely, () => void brewNext("again")),
      disabled: !said || cup.error != null,
      waits: Boolean(said) && waits,
    },
    ...(canBrew ? stepActions(steps, step) : []),
    {
      key: "Space",
      label: back ? TEXT.goBackToSlip(back.number) : again ? TEXT.brewItAgain : TEXT.brewThisChange,
      main: true,
      run: () => ask(unlikely, () => void (back ? goBack(back.id) : brewNext(again ? "again" : picked))),
      disabled: !said || cup.error != null,
      waits: Boolean(said) && waits,
    },
  ]);

  return (
    <div className="station-page">
      {question}
      <div className="thing cup-thing">
        <div className="cup-chart">
          {view && <StrengthChart cup={view} target={target.name} move={said ? move : undefined} />}
        </div>
        <div className="cup-advice">
          {trouble != null && !isBeside(trouble, SHOWN_BESIDE) && <Trouble error={trouble} />}
          {cup.isPending && <Waiting>{TEXT.calculating}</Waiting>}
          {view && !said && <Untold predicted={bench.plan!} />}
          {view && said && <WhatItWas cup={view} ending={ending != null} />}
          {view?.since_slip != null && (
            <Since slip={view.since_slip} things={view.things_changed!} compared={view.advice.since?.compared} />
          )}
          {view && said && move && (
            <TheChange move={move} grinder={bench.grinder?.name} advice={view.advice} ending={ending} />
          )}
          {back && back.differs.length > 0 && (
            <p className="above-s">{TEXT.whatWasDifferentThen(back.differs.join("; "))}</p>
          )}
        </div>
        <div className="cup-told">
          {work.told && <DraftSign words={TEXT.draftNotSaved} act="Discard draft" run={discardDraft} />}
          <Evidence told={told} setTold={(told) => set({ told })} cup={view} ending={ending} trouble={trouble} />
        </div>
      </div>
      <Alternatives
        advice={said ? view?.advice : undefined}
        picked={picked}
        pick={setPicked}
        target={target}
        setTarget={(target) => set({ target })}
        targets={view?.targets ?? []}
        trouble={cup.error}
        changeFirst={changeFirst}
        setChangeFirst={(changeFirst) => set({ changeFirst })}
        lean={lean}
        setLean={(lean) => set({ lean })}
      >
        {steps?.steps?.length ? (
          <section className="below-l">
            <h2>{TEXT.orOneStepOnTheDial(steps.grinder ?? "")}</h2>
            <SettingStep steps={steps} take={step} disabled={!canBrew} />
          </section>
        ) : null}
      </Alternatives>
    </div>
  );
}

function Untold({ predicted }: { predicted: NonNullable<Schemas["WorkbenchView"]["plan"]> }) {
  return (
    <div>
      <p className="muted">{TEXT.tasteAndTime}</p>
      <h1 className="cup-question">{TEXT.howDidItComeOut}</h1>
      <p className="muted narrow">{TEXT.tapWhatYouTasteThenEnterThe(clock(predicted.drawdown_s))}</p>
    </div>
  );
}
