import { useSyncExternalStore } from "react";

/** Whether the server is heard; when it is not, how old what is shown is. */
export interface Reach {
  away: boolean;
  /** When what the page shows was heard, ms since 1970. */
  since: number | null;
}

/** The service worker says so of an answer that it kept from earlier. */
export const KEPT = "X-Hakari-Kept";
const HEARD = "hakari.heard";
const NOTE_MS = 5000;

let reach: Reach = { away: false, since: null };
let noted = 0;
const readers = new Set<() => void>();

function set(away: boolean, since: number | null) {
  if (reach.away === away && (!away || reach.since === since)) return;
  reach = { away, since };
  readers.forEach((tell) => tell());
}

function lastHeard(): number | null {
  const kept = Number(localStorage.getItem(HEARD));
  return kept > 0 ? kept : null;
}

/** An answer came: from the server itself, or from what this device kept of it. */
export function noteAnswer(response: Response) {
  if (response.headers.has(KEPT)) {
    noteAway();
    return;
  }
  if (Date.now() - noted > NOTE_MS) {
    noted = Date.now();
    localStorage.setItem(HEARD, String(noted));
  }
  set(false, null);
}

export const noteAway = () => set(true, reach.away ? reach.since : lastHeard());

/** When an answer was true: now, or when this device kept it. */
export function heardAt(response: Response): number {
  const kept = response.headers.get(KEPT);
  return kept ? Number(kept) : Date.now();
}

const watch = (tell: () => void) => {
  readers.add(tell);
  return () => void readers.delete(tell);
};

export const useReach = (): Reach => useSyncExternalStore(watch, () => reach);
