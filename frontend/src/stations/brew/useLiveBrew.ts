import type { KeptBrew } from "../../api/brews";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";

export interface Heard {
  view: Schemas["BrewView"] | null;
  reading: Schemas["LiveReading"] | null;
  /** When the reading came, by this page's own clock in ms. */
  at: number;
  /** All readings of the scale so far. */
  t_s: number[];
  weight_g: number[];
  /** The server has not been heard for a while; the page goes on by its own clock. */
  lost: boolean;
}

const NOTHING: Heard = { view: null, reading: null, at: 0, t_s: [], weight_g: [], lost: false };

/** A running brew as the server tells it; a lost line is taken up where it broke, so that no reading is missing. */
export function useLiveBrew(brewId: number | undefined, running: boolean, over: () => void): Heard {
  const [heard, setHeard] = useState<Heard>(NOTHING);
  const ended = useRef(over);
  ended.current = over;
  useEffect(() => {
    setHeard(NOTHING);
    if (brewId === undefined || !running) return;
    const t: number[] = [],
      w: number[] = [];
    const stream = new EventSource(`/api/brews/${brewId}/stream`);
    stream.addEventListener("brew", (e) => {
      const view = JSON.parse((e as MessageEvent<string>).data) as Schemas["BrewView"];
      setHeard((h) => ({ ...h, view, lost: false }));
    });
    stream.addEventListener("reading", (e) => {
      const at = performance.now();
      const reading = JSON.parse((e as MessageEvent<string>).data) as Schemas["LiveReading"];
      t.splice(reading.index, t.length, ...reading.t_s);
      w.splice(reading.index, w.length, ...reading.weight_g);
      setHeard((h) => ({ ...h, reading, at, t_s: t, weight_g: w, lost: false }));
    });
    stream.addEventListener("over", () => {
      stream.close();
      ended.current();
    });
    stream.onerror = () => setHeard((h) => ({ ...h, lost: true }));
    return () => stream.close();
  }, [brewId, running]);
  return heard;
}

const TICK_MS = 100;

/** Seconds of the brew, running on from what the server said last; before it says anything, from what was kept of it. */
export function useElapsed(heard: Heard, kept: KeptBrew): number {
  const [, tick] = useState(0);
  const shown = useRef(0);
  useEffect(() => {
    shown.current = performance.now();
  });
  useEffect(() => {
    // A reading that came meanwhile has moved the clock already.
    const timer = setInterval(() => performance.now() - shown.current > 0.7 * TICK_MS && tick((n) => n + 1), TICK_MS);
    return () => clearInterval(timer);
  }, []);
  const reading = heard.reading;
  const [known, passed_ms] = reading
    ? [reading.elapsed_s, performance.now() - heard.at]
    : [kept.elapsed_s ?? 0, Date.now() - kept.heard_at];
  return known + (Math.max(0, passed_ms) / 1000) * kept.speed;
}
