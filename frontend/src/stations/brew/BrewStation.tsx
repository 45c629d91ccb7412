import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router-dom";
import { useActions, useStationActions } from "../../app/actions";
import { api, dataOf, type Schemas } from "../../api/client";
import { useWorkbench, useRefresh } from "../../api/hooks";
import { Waiting, QueryBoundary } from "../../ui/parts";
import { AfterBrew } from "./AfterBrew";
import { BeforeBrew } from "./BeforeBrew";
import { Brewing } from "./Brewing";
import "./brew.css";

/** What a hand can do to a brew; each is sent to the server, which keeps the only clock. */
export interface Hand {
  error: unknown;
  tap: (what: Schemas["BrewTap"]["what"], step?: number, words?: string) => Promise<unknown>;
  note: (what: Schemas["BrewNote"]["what"], on: boolean) => Promise<unknown>;
  /** True when it was taken. */
  weigh: (dose: string) => Promise<boolean>;
  plug: (connected: boolean) => Promise<unknown>;
  close: () => Promise<unknown>;
  again: () => void;
}

/** Station 4: what do I do now? */
export default function BrewStation() {
  const bench = useWorkbench();
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
    queryFn: async () => dataOf(await api.GET("/api/brews/{id}", { params: { path: { id: brewId! } } })),
  });
  const [again, setAgain] = useState<number | null>(null);
  const hand = useHand(brewId, () => setAgain(brewId ?? null));
  if (bench.data && planId === undefined) return <NoPlan />;
  const current = brewId !== undefined && again !== brewId ? brew.data : undefined;
  return (
    <QueryBoundary query={bench}>
      <QueryBoundary query={plan}>
        {plan.data && (brewId !== undefined && brew.isPending ? (
          <div className="empty"><Waiting>Fetching</Waiting></div>
        ) : current === undefined ? (
          <BeforeBrew plan={plan.data} usual={bench.data!.scale} />
        ) : current.state === "running" ? (
          <Brewing key={current.id} plan={plan.data} brew={current} hand={hand} />
        ) : (
          <AfterBrew key={current.id} plan={plan.data} brew={current} hand={hand} />
        ))}
      </QueryBoundary>
    </QueryBoundary>
  );
}

function NoPlan() {
  const navigate = useNavigate();
  useStationActions("", [{ key: "Space", label: "Make a plan", main: true, run: () => navigate("/plan") }]);
  return (
    <div className="empty">
      <h1>Nothing to brew yet</h1>
      <p>Make a plan first; then its pours stand here in large figures, with a clock that a reload does not stop.</p>
    </div>
  );
}

function useHand(brewId: number | undefined, again: () => void): Hand {
  const refresh = useRefresh();
  const { notify } = useActions();
  const [error, setError] = useState<unknown>(null);
  async function attempt(work: () => Promise<unknown>) {
    try {
      await work();
      setError(null);
      void refresh();
      return true;
    } catch (refusal) {
      setError(refusal);
      return false;
    }
  }
  const params = { params: { path: { id: brewId ?? 0 } } };
  const sendTap = async (body: Schemas["BrewTap"]) => dataOf(await api.POST("/api/brews/{id}/taps", { ...params, body }));
  const sendNote = async (what: Schemas["BrewNote"]["what"], on: boolean) => dataOf(await api.POST("/api/brews/{id}/notes", { ...params, body: { what, on } }));
  return {
    error, again,
    tap: (what, step, words) => attempt(async () => {
      await sendTap({ what, step: step ?? null });
      if (words) notify(words, async () => void (await attempt(() => sendTap({ what: "undo", step: null }))));
    }),
    note: (what, on) => attempt(() => sendNote(what, on)),
    weigh: (dose) => attempt(async () => dataOf(await api.POST("/api/brews/{id}/dose", { ...params, body: { dose_g: dose as unknown as number } }))),
    plug: (connected) => attempt(async () => dataOf(await api.POST("/api/brews/{id}/scale", { ...params, body: { connected } }))),
    close: () => attempt(async () => dataOf(await api.POST("/api/brews/{id}/close", { ...params, body: {} }))),
  };
}
