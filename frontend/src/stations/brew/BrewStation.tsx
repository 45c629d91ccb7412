import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router-dom";
import { useStationActions } from "../../app/actions";
import { api, dataOf, type Schemas } from "../../api/client";
import { useBench, useRefresh } from "../../api/hooks";
import { LevelChart } from "../../charts/LevelChart";
import { Trouble, troubleWith, Typed, Waits } from "../../ui/parts";
import { clock, readNumber } from "../../ui/words";
import { Checklist } from "./Checklist";

/** Station 4: what do I do now? Timed by hand, on the server's clock. */
export default function BrewStation() {
  const bench = useBench();
  const planId = bench.data?.plan?.id;
  const brewId = bench.data?.brew?.id;
  const plan = useQuery({
    queryKey: ["plan", planId],
    enabled: planId !== undefined,
    queryFn: async () => dataOf(await api.GET("/api/plans/{id}", { params: { path: { id: planId! } } })),
  });
  const brew = useQuery({
    queryKey: ["brew", brewId],
    enabled: brewId !== undefined,
    queryFn: async () => ({ ...dataOf(await api.GET("/api/brews/{id}", { params: { path: { id: brewId! } } })), at: performance.now() }),
  });
  const queries = useQueryClient();
  const refresh = useRefresh();
  const navigate = useNavigate();
  const [error, setError] = useState<unknown>(null);
  const b = brew.data;
  const timed = b?.elapsed_s != null;
  const running = timed && b.last_drip_s == null;
  const elapsed = useElapsed(running ? b.elapsed_s! : null, b?.at ?? 0);

  async function attempt(work: () => Promise<unknown>) {
    try {
      await work();
      setError(null);
      await refresh();
      await queries.invalidateQueries({ queryKey: ["brew"] });
    } catch (refusal) {
      setError(refusal);
    }
  }
  const start = () => attempt(async () => dataOf(await api.POST("/api/brews", { body: {} })));
  const tap = (what: Schemas["BrewTap"]["what"]) =>
    attempt(async () => dataOf(await api.POST("/api/brews/{id}/taps", { params: { path: { id: brewId! } }, body: { what } })));

  const main = !timed
    ? { label: b?.bare_bed_s != null ? "Brew it again: first pour" : "First pour: start", run: () => void start() }
    : b.bare_bed_s == null
      ? { label: plan.data?.document.steep ? "Pressed out" : "Bed is bare", run: () => void tap("bare-bed") }
      : b.last_drip_s == null
        ? { label: "Last drip", run: () => void tap("last-drip") }
        : { label: "To the cup", run: () => navigate("/cup") };
  useStationActions(plan.data ? `${plan.data.brewer_label}, timed by hand` : "", plan.data
    ? [
        ...(timed ? [{ key: "T", label: "It stalled", run: () => void tap("stalled") }, { key: "L", label: "Take back the last tap", run: () => void tap("undo") }, { key: "R", label: "Start over", run: () => void start() }] : []),
        { key: "Space", main: true, ...main },
      ]
    : [{ key: "Space", label: "Make a plan", main: true, run: () => navigate("/plan") }]);

  return (
    <Waits query={bench}>
      {planId === undefined ? (
        <div className="empty">
          <h1>Nothing to brew yet</h1>
          <p>Make a plan first; then its pours stand here in large figures, with a clock that a reload does not stop.</p>
        </div>
      ) : (
        <Waits query={plan}>
          {plan.data && <Brewing plan={plan.data} elapsed={running ? elapsed : (b?.last_drip_s ?? null)} brew={b} error={error} />}
        </Waits>
      )}
    </Waits>
  );
}

/** The dose that really lies in the brewer: another one rescales the pours, the ratio stays. */
function WeighedDose({ plan }: { plan: Schemas["PlanView"] }) {
  const refresh = useRefresh();
  const planned = plan.document.dose_g;
  const [dose, setDose] = useState(String(planned));
  const [error, setError] = useState<unknown>(null);
  useEffect(() => setDose(String(planned)), [planned]);
  async function rescale() {
    const weighed = readNumber(dose, "g");
    if (!(weighed > 0) || Math.abs(weighed - planned) < 0.05) return;
    const pours = plan.recipe.pours?.map((p) => ({ ...p, water_g: Math.round(p.water_g * (weighed / planned)) })) ?? null;
    try {
      dataOf(await api.POST("/api/plans", { body: { ...plan.recipe, dose_g: weighed, ratio: plan.ratio, water_g: null, cup_g: null, pours } }));
      setError(null);
      await refresh();
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <div style={{ marginBottom: 12 }}>
      <Typed small label="Weighed in the brewer" value={dose} unit="g" onChange={setDose} onBlur={() => void rescale()} trouble={troubleWith(error, "dose_g")} />
    </div>
  );
}

/** Seconds since the first pour, running on from what the server said. */
function useElapsed(known: number | null, at: number): number | null {
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    if (known === null) return;
    const timer = setInterval(() => setNow(performance.now()), 200);
    return () => clearInterval(timer);
  }, [known]);
  return known === null ? null : known + Math.max(0, now - at) / 1000;
}

function Brewing({ plan, elapsed, brew, error }: { plan: Schemas["PlanView"]; elapsed: number | null; brew?: Schemas["BrewView"]; error: unknown }) {
  const pours = plan.document.pours!.map((p, i, all) => ({
    start: plan.prediction.pour_starts_s[i] ?? p.start_s ?? 0,
    end: (plan.prediction.pour_starts_s[i] ?? p.start_s ?? 0) + p.duration_s,
    total: Math.round(all.slice(0, i + 1).reduce((sum, q) => sum + q.water_g, 0)),
  }));
  const t = elapsed ?? 0;
  const next = pours.find((p) => t < p.end);
  const pouring = next && t >= next.start;
  return (
    <div className="station-page">
      <div className="thing" style={{ display: "grid", gridTemplateRows: "1fr 320px" }}>
      <div style={{ padding: "18px 60px 0", display: "grid", alignContent: "center" }}>
        <div style={{ fontSize: 22, color: "var(--ink-2)" }}>{brew?.bare_bed_s != null ? "Bed bare at" : next ? (elapsed === null ? "First, pour to" : pouring ? "Pour to" : `At ${clock(next.start)}, pour to`) : plan.document.steep ? "Steep; all pressed or drawn off at about" : "Watch the bed; it should be bare at about"}</div>
        <div className="figure" style={{ fontSize: 178, lineHeight: "176px", fontWeight: 600, letterSpacing: "-0.06em", marginLeft: -8, color: pouring ? "var(--persimmon-text)" : "var(--ink)" }}>
          {brew?.bare_bed_s != null ? clock(brew.bare_bed_s) : next ? next.total : clock(plan.prediction.drawdown_s)}
          {brew?.bare_bed_s == null && next && <span style={{ fontSize: 56, color: "var(--ink-2)", letterSpacing: 0, marginLeft: 16 }}>g</span>}
        </div>
        <p style={{ fontSize: 22, color: "var(--ink-2)", maxWidth: "52ch", minHeight: 30 }}>
          {elapsed === null
            ? brew?.bare_bed_s != null ? "As recorded." : "Press Space with the first pour. A reload loses nothing."
            : next && !pouring
              ? `in ${Math.max(0, Math.ceil(next.start - t))} s`
              : brew?.last_drip_s != null
                ? `Last drip at ${clock(brew.last_drip_s)}. Taste it, then record the cup.`
                : brew?.stalled ? "Noted: it stalled. Do not press on a plugged filter." : ""}
        </p>
        {error != null && <Trouble error={error} />}
      </div>
      <LevelChart document={plan.document} prediction={plan.prediction} now={elapsed} />
      </div>
      <aside className="margin" aria-label="The plan">
        <h2>Since the first pour</h2>
        <div className="number" style={{ fontSize: 64, lineHeight: "72px" }}>{clock(t)}</div>
        <p className="said">the plan ends about {clock(plan.prediction.drawdown_s)}</p>
        {elapsed === null && brew?.bare_bed_s == null && (
          <>
            <WeighedDose plan={plan} />
            <Checklist checks={plan.checks} />
          </>
        )}
        <ul className="rows">
          {plan.steps.map((s, i) => (
            <li key={i} className={elapsed !== null && t >= s.at_s && t < s.ends_s ? "held" : undefined} style={{ color: elapsed !== null && t >= s.ends_s ? "var(--ink-3)" : undefined }}>
              <span><span className="figure">{clock(s.at_s)}</span>&ensp;{s.words}{s.waits && <span className="quiet"> {s.waits}</span>}</span>
            </li>
          ))}
          <li style={{ color: brew?.bare_bed_s != null ? "var(--ink-3)" : undefined }}><span>{plan.document.steep ? "Pressed" : "Bare bed"}</span><span className="figure">{brew?.bare_bed_s != null ? clock(brew.bare_bed_s) : ""}</span></li>
          <li><span>Last drip</span><span className="figure">{brew?.last_drip_s != null ? clock(brew.last_drip_s) : ""}</span></li>
        </ul>
        <p className="quiet" style={{ marginTop: 16 }}>Water at {Math.round(plan.document.water_c ?? 93)} °C scalds. Keep a hand clear of the steam.</p>
      </aside>
    </div>
  );
}
