import { useCallback, useEffect, useState } from "react";
import { useBrewWrites } from "../../api/brews";
import { isAway, isTrouble, type Schemas } from "../../api/client";
import { useReach } from "../../api/reach";
import { useActions } from "../../app/actions";
import { WORDS } from "./words";

const TEXT = WORDS.useHand;
const AGAIN_MS = 2000;

/** What a hand can do to a brew; each is sent to the server, which keeps the only clock. */
export interface Hand {
  error: unknown;
  /** Steps that were tapped while the server was away; they are sent, with their times, when it is heard again. */
  waiting: number;
  tap: (tap: Tap, words?: string) => Promise<unknown>;
  note: (what: Schemas["BrewNote"]["what"], on: boolean) => Promise<unknown>;
  /** True when it was taken. */
  weigh: (dose: string) => Promise<boolean>;
  plug: (connected: boolean) => Promise<unknown>;
  close: () => Promise<unknown>;
  again: () => void;
}

/** `at_s` is when it was tapped by the clock that was seen; `amount_g` water that was really added to a concentrate. */
type Tap = Schemas["BrewTap"];

const keyOf = (brewId: number) => `hakari.taps.${brewId}`;

/** Kept on the device, so that a reload loses none. */
function readWaiting(brewId: number | undefined): Tap[] {
  try {
    return JSON.parse((brewId !== undefined && localStorage.getItem(keyOf(brewId))) || "[]") as Tap[];
  } catch {
    return [];
  }
}

/** Sends what a hand did; `error` is the last refusal. */
export function useHand(brewId: number | undefined, again: () => void): Hand {
  const writes = useBrewWrites();
  const { notify } = useActions();
  const [error, setError] = useState<unknown>(null);
  const [waiting, setWaiting] = useState(() => readWaiting(brewId));
  const [tries, setTries] = useState(0);
  const { away } = useReach();
  async function attempt(work: () => Promise<unknown>) {
    try {
      await work();
      setError(null);
      return true;
    } catch (refusal) {
      setError(refusal);
      return false;
    }
  }
  const id = brewId ?? 0;
  const keep = useCallback(
    (taps: Tap[]) => {
      if (brewId === undefined) return;
      if (taps.length) localStorage.setItem(keyOf(brewId), JSON.stringify(taps));
      else localStorage.removeItem(keyOf(brewId));
      setWaiting(taps);
    },
    [brewId],
  );
  useEffect(() => setWaiting(readWaiting(brewId)), [brewId]);
  useEffect(() => {
    if (away || waiting.length === 0 || brewId === undefined) return;
    // One after the other, in the order of the taps; what is refused now is shown and not tried again. A server in trouble
    // has refused nothing: it is asked again.
    const [first, ...rest] = waiting;
    let gone = false;
    let later: ReturnType<typeof setTimeout> | undefined;
    async function send() {
      try {
        await writes.tap(brewId!, first!);
        setError((said: unknown) => (isTrouble(said) ? null : said));
      } catch (refusal) {
        if (isAway(refusal)) return;
        setError(refusal);
        if (isTrouble(refusal)) {
          if (!gone) later = setTimeout(() => setTries((n) => n + 1), AGAIN_MS);
          return;
        }
      }
      if (gone) return;
      keep(rest);
    }
    void send();
    return () => {
      gone = true;
      clearTimeout(later);
    };
  }, [away, waiting, tries, brewId, keep, writes]);
  return {
    error,
    again,
    waiting: waiting.length,
    tap: (tap, words) =>
      attempt(async () => {
        const canWait = tap.what === "done" && tap.at_s != null;
        // What is waiting goes first.
        if (!(canWait && waiting.length > 0)) {
          try {
            await writes.tap(id, { ...tap, at_s: null });
            if (words) notify(words, async () => void (await attempt(() => writes.tap(id, { what: "undo" }))));
            return;
          } catch (refusal) {
            if (!canWait || !isAway(refusal)) throw refusal;
          }
        }
        keep([...waiting, tap]);
        if (words) notify(TEXT.keptUntilTheServerIsHeard(words), () => keep(waiting));
      }),
    note: (what, on) => attempt(() => writes.note(id, what, on)),
    weigh: (dose) => attempt(() => writes.weigh(id, dose)),
    plug: (connected) => attempt(() => writes.plug(id, connected)),
    close: () => attempt(() => writes.close(id)),
  };
}
