import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router-dom";
import { useActions, useStationActions } from "../../app/actions";
import { api, dataOf, typed, type Schemas } from "../../api/client";
import { useBench, useRefresh } from "../../api/hooks";
import { LevelChart } from "../../charts/LevelChart";
import { settingText, Trouble, troubleWith, Typed, Waiting, Waits } from "../../ui/parts";
import { useSettled } from "../../ui/useSettled";
import { PlanMargin } from "./PlanMargin";

/** The recipe as it is typed; the server reads it. */
interface Fields {
  dose: string;
  ratio: string;
  heat: string;
  brewer: NonNullable<Schemas["Recipe"]["brewer"]>;
  stages: number;
  strength: NonNullable<Schemas["Recipe"]["strength"]>;
  material: "plastic" | "glass" | "ceramic" | "metal";
  preheated: boolean;
}

const FIRST: Fields = { dose: "17", ratio: "16.5", heat: "93", brewer: "ribbed-cone", stages: 3, strength: "normal", material: "plastic", preheated: true };
const SETTLE_MS = 180;

function fieldsOf(recipe: Schemas["Recipe"]): Fields {
  const ratio = recipe.ratio ?? (recipe.water_g != null ? recipe.water_g / (recipe.dose_g ?? 17) : 16.5);
  return {
    dose: String(recipe.dose_g ?? 17), ratio: String(Math.round(ratio * 100) / 100), heat: String(recipe.water_c ?? 93),
    brewer: recipe.brewer ?? "ribbed-cone", stages: recipe.stages ?? 3, strength: recipe.strength ?? "normal",
    material: recipe.heat?.material ?? "plastic", preheated: recipe.heat?.preheated ?? true,
  };
}

function recipeOf(f: Fields): Schemas["Recipe"] {
  return {
    dose_g: typed(f.dose), ratio: typed(f.ratio), water_c: typed(f.heat), brewer: f.brewer, school: "staged",
    stages: f.stages, strength: f.strength, heat: { material: f.material, preheated: f.preheated, lid: false },
  };
}

/** Station 3: what do I brew, with what pours? */
export default function PlanStation() {
  const bench = useBench();
  const [fields, setFields] = useState<Fields | null>(null);
  const kept = bench.data?.plan?.recipe;
  const shown = fields ?? (kept ? fieldsOf(kept) : FIRST);
  const settled = JSON.parse(useSettled(JSON.stringify(shown), SETTLE_MS)) as Fields;
  const grind = `${bench.data?.sample?.id}/${bench.data?.grinder?.id}/${bench.data?.grinder?.setting}/${bench.data?.coffee?.id}`;
  const preview = useQuery({
    queryKey: ["plan-preview", settled, grind],
    enabled: bench.isSuccess,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => dataOf(await api.POST("/api/plans/preview", { body: recipeOf(settled) })),
  });
  const refresh = useRefresh();
  const navigate = useNavigate();
  const { tell } = useActions();
  const [error, setError] = useState<unknown>(null);
  const trouble = preview.error ?? error;
  const plan = preview.data;

  async function keep(to?: string) {
    try {
      dataOf(await api.POST("/api/plans", { body: recipeOf(shown) }));
      setError(null);
      setFields(null);
      await refresh();
      if (to) navigate(to);
      else tell("Plan kept");
    } catch (refusal) {
      setError(refusal);
    }
  }
  const ready = Boolean(plan) && !preview.error;
  useStationActions(plan ? settingText(plan.grind.source) : "", [
    { key: "C", label: "Record a brew of it", run: () => void keep("/cup"), disabled: !ready },
    { key: "K", label: "Keep the plan", run: () => void keep(), disabled: !ready },
    { key: "Space", label: "Brew it", main: true, run: () => void keep("/brew"), disabled: !ready },
  ]);
  const set = (change: Partial<Fields>) => setFields({ ...shown, ...change });

  return (
    <Waits query={bench}>
      <div className="station-page">
        <div className="thing" style={{ display: "grid", gridTemplateRows: "auto auto minmax(330px, 1fr) auto", padding: "20px 0 0" }}>
          <div style={{ display: "grid", gridTemplateColumns: "150px 150px 180px 1fr", gap: 34, padding: "0 34px" }}>
            <Typed label="Coffee" value={shown.dose} unit="g" onChange={(dose) => set({ dose })} trouble={troubleWith(trouble, "dose_g")} />
            <Typed label="to water, 1 :" value={shown.ratio} onChange={(ratio) => set({ ratio })} trouble={troubleWith(trouble, "ratio") ?? troubleWith(trouble, "water_g")} />
            <Typed label="Water at" value={shown.heat} unit="°C" onChange={(heat) => set({ heat })} trouble={troubleWith(trouble, "water_c")} />
            <div className="typed">
              <span className="label">Poured, and in the cup</span>
              <div className="line" style={{ borderColor: "transparent", fontFamily: "var(--figures)", fontSize: 40, lineHeight: "54px", letterSpacing: "-0.05em", color: "var(--ink-2)", whiteSpace: "nowrap" }}>
                {plan ? `${Math.round(plan.water_g)}` : "–"}<span className="unit" style={{ fontSize: 15, letterSpacing: 0 }}>g</span>
                <span style={{ fontSize: 24, margin: "0 4px" }}>→</span>
                {plan ? `${Math.round(plan.prediction.drink_g)}` : "–"}<span className="unit" style={{ fontSize: 15, letterSpacing: 0 }}>g</span>
              </div>
            </div>
          </div>
          <Choices fields={shown} set={set} />
          <div style={{ minHeight: 0, opacity: preview.isFetching && preview.isPlaceholderData ? 0.75 : 1 }}>
            {plan ? <LevelChart document={plan.document} prediction={plan.prediction} /> : preview.error ? <div style={{ padding: 34 }}><Trouble error={preview.error} /></div> : <div style={{ padding: 34 }}><Waiting>Working it out</Waiting></div>}
          </div>
          <p className="quiet" style={{ padding: "4px 34px 14px" }}>
            {preview.error && plan ? "The chart shows the last plan that could be worked out." : plan?.reason}
          </p>
        </div>
        {plan && <PlanMargin plan={plan} />}
      </div>
    </Waits>
  );
}

function Choices({ fields: f, set }: { fields: Fields; set: (change: Partial<Fields>) => void }) {
  const brewers = useQuery({ queryKey: ["brewers"], staleTime: Infinity, queryFn: async () => dataOf(await api.GET("/api/brewers")).brewers });
  const pick = <T extends string | number>(label: string, value: T, options: [T, string][], choose: (v: T) => void) => (
    <div className="chips" role="radiogroup" aria-label={label} style={{ gap: 5 }}>
      <span className="quiet" style={{ marginRight: 4 }}>{label}</span>
      {options.map(([v, words]) => (
        <button key={String(v)} className="chip" role="radio" aria-checked={v === value} onClick={() => choose(v)}>{words}</button>
      ))}
    </div>
  );
  return (
    <div style={{ display: "flex", flexWrap: "wrap", gap: "8px 26px", padding: "14px 34px 8px" }}>
      {pick("Pour it staged, in", f.stages, [[2, "2"], [3, "3"], [4, "4"]], (stages) => set({ stages }))}
      {pick("pouring", f.strength, [["soft", "softly"], ["normal", "evenly"], ["hard", "hard"]], (strength) => set({ strength }))}
      {pick("into the", f.brewer, (brewers.data ?? []).map((b) => [b.name as Fields["brewer"], b.label]), (brewer) => set({ brewer }))}
    </div>
  );
}
