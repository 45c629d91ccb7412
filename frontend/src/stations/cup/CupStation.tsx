import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router-dom";
import { useActions, useStationActions } from "../../app/actions";
import { api, dataOf, typed, type Schemas } from "../../api/client";
import { useDraft } from "../../api/drafts";
import { useWorkbench, useRefresh } from "../../api/hooks";
import { StrengthChart } from "../../charts/StrengthChart";
import { isBeside, Trouble, Waiting, QueryBoundary } from "../../ui/parts";
import { DraftSign } from "../../ui/DraftSign";
import { useLastGood } from "../../ui/useLastGood";
import { useSettled } from "../../ui/useSettled";
import { clock } from "../../ui/words";
import { Alternatives, OWN, type Aim, type Lean } from "./Alternatives";
import { Evidence, type Told } from "./Evidence";
import { TheChange } from "./TheChange";
import { WhatItWas } from "./WhatItWas";
import { useUnits } from "../../ui/useUnits";
import { useQuestion } from "../../ui/useQuestion";

const NOTHING: Told = {
  cooled: {},
  bare: "",
  drip: "",
  stalled: false,
  tds: "",
  drink: "",
  taste: {},
  bed: [],
  note: "",
  stuck: false,
  force: null,
  water: null,
  dirty: false,
  ground: "",
  spent: "",
  liked: null,
  added: "",
};
const SETTLE_MS = 250;
const SHOWN_BESIDE = ["drawdown_s", "last_drip_s", "tds_percent", "drink_g", "spent_dry_g", "added_water_g"];

function entryOf(told: Told, target: Aim, school: Schemas["CupEntry"]["school"], lean: Lean): Schemas["CupEntry"] {
  const number = (text: string) => (text.trim() ? typed(text) : null);
  return {
    outcome: {
      drawdown_s: number(told.bare),
      last_drip_s: number(told.drip),
      stalled: told.stalled || null,
      tds_percent: number(told.tds),
      drink_g: number(told.drink),
      taste: told.taste,
      taste_cooled: told.cooled,
      bed: told.bed,
      plunger_stuck: told.stuck,
      press_force: told.force,
      spent_dry_g: number(told.spent),
      liked: told.liked,
      added_water_g: number(told.added),
    },
    target:
      target.name === OWN
        ? {
            ey_percent: [typed(target.own[0]!), typed(target.own[1]!)],
            tds_percent: [typed(target.own[2]!), typed(target.own[3]!)],
          }
        : target.name,
    school,
    lean,
    water: told.water,
    gear_clean: told.dirty ? false : null,
    ground_age_h: number(told.ground),
    note: told.note,
  };
}

function toldOf(document: Schemas["SlipDocument"]): Told {
  const outcome = document.outcome!;
  return {
    stuck: Boolean(outcome.plunger_stuck),
    force: outcome.press_force ?? null,
    water: document.water ?? null,
    dirty: document.gear_clean === false,
    note: document.note ?? "",
    ground: document.coffee?.ground_age_h?.toString() ?? "",
    spent: outcome.spent_dry_g?.toString() ?? "",
    liked: outcome.liked ?? null,
    added: outcome.added_water_g?.toString() ?? "",
    bare: outcome.drawdown_s != null ? clock(outcome.drawdown_s) : "",
    drip: outcome.last_drip_s != null ? clock(outcome.last_drip_s) : "",
    stalled: Boolean(outcome.stalled),
    tds: outcome.tds_percent?.toString() ?? "",
    drink: outcome.drink_g?.toString() ?? "",
    taste: outcome.taste ?? {},
    cooled: outcome.taste_cooled ?? {},
    bed: outcome.bed ?? [],
  };
}

/** Station 5: how did it come out, what do I change? */
export default function CupStation() {
  const bench = useWorkbench();
  const slipId = bench.data?.slip?.of_brew ? bench.data.slip.id : undefined;
  const slip = useQuery({
    queryKey: ["slip", slipId],
    enabled: slipId !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/slips/{id}", { params: { path: { id: slipId! } } })),
  });
  if (bench.data && !bench.data.plan) return <NoPlan />;
  return (
    <QueryBoundary query={bench}>
      {slipId !== undefined && slip.isPending ? (
        <div className="empty">
          <Waiting>Fetching</Waiting>
        </div>
      ) : (
        bench.data && (
          <Cup key={`${bench.data.plan?.id}/${bench.data.brew?.id ?? ""}`} bench={bench.data} slip={slip.data} />
        )
      )}
    </QueryBoundary>
  );
}

function NoPlan() {
  const navigate = useNavigate();
  useStationActions("", [{ key: "Space", label: "Make a plan", main: true, run: () => navigate("/plan") }]);
  return (
    <div className="empty">
      <h1>No brew to judge yet</h1>
      <p>Plan a brew and pour it; then tap here what you tasted: you get one change, in clicks of your grinder.</p>
    </div>
  );
}

/** All that is typed and tapped here. */
interface CupDraft {
  told: Told;
  target: Aim;
  school: NonNullable<Schemas["CupEntry"]["school"]>;
  lean: Lean;
}

/** What is known before anything is typed: the slip's, or what the brew showed. */
function firstOf(bench: Schemas["WorkbenchView"], slip?: Schemas["SlipDetail"]): CupDraft {
  const b = bench.brew;
  const seen: Told = {
    ...NOTHING,
    bare: b?.bare_bed_s != null ? clock(b.bare_bed_s) : "",
    drip: b?.last_drip_s != null ? clock(b.last_drip_s) : "",
    stalled: Boolean(b?.stalled),
    drink: b?.drink_g != null ? String(Math.round(b.drink_g)) : "",
    added: b?.added_water_g != null ? String(b.added_water_g) : "",
    bed: b?.bed ?? [],
  };
  const kept = slip?.document.target;
  const box = typeof kept === "object" && kept ? [...kept.ey_percent, ...kept.tds_percent].map(String) : null;
  return {
    told: slip ? toldOf(slip.document) : seen,
    target: {
      name: box ? OWN : bench.target === OWN ? "classical" : bench.target,
      own: box ?? ["18", "22", "1.15", "1.45"],
    },
    school: bench.school as CupDraft["school"],
    lean: slip?.document.lean ?? null,
  };
}

function Cup({ bench, slip }: { bench: Schemas["WorkbenchView"]; slip?: Schemas["SlipDetail"] }) {
  const ending = bench.plan?.ending ?? null;
  // Only another slip or brew says something new; the bench is fetched again all the time.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const first = useMemo(() => firstOf(bench, slip), [slip?.id, slip?.version, bench.brew?.id]);
  const work = useDraft<CupDraft>("cup", `plan ${bench.plan?.id ?? 0}, brew ${bench.brew?.id ?? 0}`);
  const { target, school, lean } = work.draft ?? first;
  // A draft of an earlier version knows less.
  const told = { ...NOTHING, ...(work.draft ?? first).told };
  const set = (change: Partial<CupDraft>) => work.keep({ told, target, school, lean, ...change });
  const [picked, setPicked] = useState(0);
  const entry = JSON.stringify(entryOf(told, target, school, lean));
  const settled = useSettled(entry, SETTLE_MS);
  const cup = useQuery({
    queryKey: ["cup-preview", bench.plan?.id, settled],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () =>
      dataOf(await api.POST("/api/cups/preview", { body: JSON.parse(settled) as Schemas["CupEntry"] })),
  });
  const view = useLastGood(cup.data);
  const refresh = useRefresh();
  const navigate = useNavigate();
  const { notify } = useActions();
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
    const thrown = { told, target, school, lean };
    void work.discard();
    notify("Draft discarded", () => work.keep(thrown));
  }
  async function keep(): Promise<Schemas["SlipDetail"] | null> {
    try {
      const kept = dataOf(await api.POST("/api/slips", { body: JSON.parse(entry) as Schemas["CupEntry"] }));
      setError(null);
      await refresh();
      await work.discard();
      return kept;
    } catch (refusal) {
      setError(refusal);
      return null;
    }
  }
  async function keepOnly() {
    const kept = await keep();
    if (kept) notify(`Slip ${kept.number} saved`);
  }
  /** Save the cup, and put the earlier slip that was better on the bench with its plan, grinder and setting. */
  async function goBack(slipId: number) {
    const kept = await keep();
    if (!kept) return;
    dataOf(await api.PATCH("/api/workbenches/current", { body: { slip_id: slipId } }));
    await refresh();
    navigate("/plan");
  }
  async function brewNext(index: number) {
    const kept = await keep();
    if (!kept) return;
    dataOf(await api.POST("/api/slips/{id}/brew", { params: { path: { id: kept.id } }, body: { move: index } }));
    await refresh();
    navigate("/plan");
  }
  const unlikely = cup.data?.unlikely ?? [];
  // A cup that nobody tasted is kept too; it says so, and nothing is changed by it.
  const current = cup.isSuccess && !cup.isPlaceholderData && settled === entry;
  const ready = Boolean(said) && current;
  const back = picked === 0 ? view?.back : null;
  const again = move?.kind === "repeat" || move?.kind === "none";
  useStationActions(bench.plan ? `${bench.coffee?.name ?? "coffee"}, ${bench.plan.brewer}` : "", [
    {
      key: "K",
      label: slip ? "Save the slip again" : "Save the slip",
      run: () => ask(unlikely, () => void keepOnly()),
      disabled: !current,
    },
    { key: "G", label: "Brew it again first", run: () => ask(unlikely, () => void brewNext(-1)), disabled: !ready },
    {
      key: "Space",
      label: back ? `Go back to slip ${back.number}` : again ? "Brew it again" : "Brew this change",
      main: true,
      run: () => ask(unlikely, () => void (back ? goBack(back.id) : brewNext(again ? -1 : picked))),
      disabled: !ready,
    },
  ]);

  return (
    <div className="station-page">
      {question}
      <div className="thing cup-thing">
        <div className="cup-chart" style={{ padding: "16px 0 0 16px", minHeight: 300 }}>
          {view && <StrengthChart cup={view} target={target.name} move={said ? move : undefined} />}
        </div>
        <div style={{ padding: "14px 26px 8px 26px", minWidth: 0 }}>
          {trouble != null && !isBeside(trouble, SHOWN_BESIDE) && <Trouble error={trouble} />}
          {cup.isPending && <Waiting>Calculating…</Waiting>}
          {view && !said && <Untold predicted={bench.plan!} />}
          {view && said && <WhatItWas cup={view} ending={ending != null} />}
          {view?.since_slip != null && (
            <Since slip={view.since_slip} things={view.things_changed!} compared={view.advice.since?.compared} />
          )}
          {view && said && move && (
            <TheChange move={move} grinder={bench.grinder?.name} advice={view.advice} ending={ending} />
          )}
          {back && back.differs.length > 0 && (
            <p style={{ marginTop: 8 }}>What was different then: {back.differs.join("; ")}.</p>
          )}
        </div>
        <div style={{ gridColumn: "1 / -1", padding: "6px 34px 18px" }}>
          {work.draft && <DraftSign words="Draft, not saved" act="Discard draft" run={discardDraft} />}
          <Evidence
            key={String(work.pending)}
            told={told}
            setTold={(told) => set({ told })}
            cup={view}
            ending={ending}
            trouble={trouble}
          />
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
        school={school}
        setSchool={(school) => set({ school })}
        lean={lean}
        setLean={(lean) => set({ lean })}
      />
    </div>
  );
}

type Compared = NonNullable<Schemas["AdviceDocument"]["since"]>["compared"] | undefined;
const COMPARED = { better: "better than", worse: "worse than", alike: "no better and no worse than" };

/** What differs from the slip before, found from the two plans; several things at once cannot be told apart. */
function Since({ slip, things, compared }: { slip: number; things: string[]; compared: Compared }) {
  const several = things.length > 1;
  const told = compared ? ` By your words this cup is ${COMPARED[compared]} slip ${slip}.` : "";
  return (
    <p className={several ? "since several" : "since"} data-testid="since">
      {things.length === 0
        ? `Nothing was changed since slip ${slip}.`
        : several
          ? `${things.length} things changed at once since slip ${slip}: ${things.join("; ")}. Which of them did it cannot be told.${told}`
          : `Only this changed since slip ${slip}: ${things[0]}.`}
    </p>
  );
}

function Untold({ predicted }: { predicted: NonNullable<Schemas["WorkbenchView"]["plan"]> }) {
  return (
    <div>
      <p style={{ color: "var(--ink-2)" }}>Taste and time</p>
      <h1 style={{ fontSize: 32, lineHeight: "38px", letterSpacing: "-0.02em", margin: "18px 0 12px" }}>
        How did it come out?
      </h1>
      <p style={{ color: "var(--ink-2)", maxWidth: "40ch" }}>
        Tap what you taste, then enter the time and, if you have a refractometer, the strength. The brew was predicted
        to end at {clock(predicted.drawdown_s)}. You get one change to make.
      </p>
    </div>
  );
}
