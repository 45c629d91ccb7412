import { useState } from "react";
import { api, dataOf, type Schemas } from "../../api/client";
import { useRefresh } from "../../api/hooks";
import { useActions } from "../../app/actions";

/** What a hand can do to a brew; each is sent to the server, which keeps the only clock. */
export interface Hand {
  error: unknown;
  /** `amountG` is water that was really added to a concentrate. */
  tap: (what: Schemas["BrewTap"]["what"], step?: number, words?: string, amountG?: number | null) => Promise<unknown>;
  note: (what: Schemas["BrewNote"]["what"], on: boolean) => Promise<unknown>;
  /** True when it was taken. */
  weigh: (dose: string) => Promise<boolean>;
  plug: (connected: boolean) => Promise<unknown>;
  close: () => Promise<unknown>;
  again: () => void;
}

/** Sends what a hand did; `error` is the last refusal. */
export function useHand(brewId: number | undefined, again: () => void): Hand {
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
  const sendTap = async (body: Schemas["BrewTap"]) =>
    dataOf(await api.POST("/api/brews/{id}/taps", { ...params, body }));
  const sendNote = async (what: Schemas["BrewNote"]["what"], on: boolean) =>
    dataOf(await api.POST("/api/brews/{id}/notes", { ...params, body: { what, on } }));
  return {
    error,
    again,
    tap: (what, step, words, amountG) =>
      attempt(async () => {
        await sendTap({ what, step: step ?? null, amount_g: amountG ?? null });
        if (words) notify(words, async () => void (await attempt(() => sendTap({ what: "undo", step: null }))));
      }),
    note: (what, on) => attempt(() => sendNote(what, on)),
    weigh: (dose) =>
      attempt(async () =>
        dataOf(await api.POST("/api/brews/{id}/dose", { ...params, body: { dose_g: dose as unknown as number } })),
      ),
    plug: (connected) =>
      attempt(async () => dataOf(await api.POST("/api/brews/{id}/scale", { ...params, body: { connected } }))),
    close: () => attempt(async () => dataOf(await api.POST("/api/brews/{id}/close", { ...params, body: {} }))),
  };
}
