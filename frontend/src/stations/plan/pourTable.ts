import type { Schemas } from "../../api/client";

export type Pour = Schemas["PourDocument"];
export type Action = Schemas["ActionDocument"];
export type After = "swirl" | "stir" | "stir-back" | "";

/** Pours with what is done between them; `starts` are the predicted starts, which pours that wait for an event have not. */
export interface Poured {
  pours: Pour[];
  actions: Action[];
  starts: readonly number[];
}

export const LEAST_G = 1;
const AFTER_S = 2; // a swirl follows its pour by a breath

const isByHand = (a: Action) => a.do === "swirl" || a.do === "stir" || a.do === "stir-back";

export const startOf = ({ pours, starts }: Poured, i: number) => pours[i]!.start_s ?? starts[i] ?? 0;
const endOf = (t: Poured, i: number) => startOf(t, i) + t.pours[i]!.duration_s;
/** Whether an action comes after this pour and before the next one begins. */
const follows = (t: Poured, i: number, a: Action) =>
  isByHand(a) && a.at_s >= startOf(t, i) && (i + 1 >= t.pours.length || a.at_s < startOf(t, i + 1));

export const totalAt = (pours: Pour[], i: number) => pours.slice(0, i + 1).reduce((sum, p) => sum + p.water_g, 0);

/** What is done after a pour. */
export const afterOf = (t: Poured, i: number): After =>
  (t.actions.find((a) => follows(t, i, a))?.do as After | undefined) ?? "";

export function withAfter(t: Poured, i: number, after: After): Poured {
  const others = t.actions.filter((a) => !follows(t, i, a));
  const added: Action[] = after ? [{ at_s: Math.round(endOf(t, i) + AFTER_S), do: after }] : [];
  return { ...t, actions: [...others, ...added].sort((a, b) => a.at_s - b.at_s) };
}

const replaced = (t: Poured, i: number, change: Partial<Pour>): Poured => ({
  ...t,
  pours: t.pours.map((p, k) => (k === i ? { ...p, ...change } : p)),
});

/** Start a pour at a time; what follows it goes along. */
export function withStart(t: Poured, i: number, start_s: number): Poured {
  const by = start_s - startOf(t, i);
  const moved = replaced(t, i, { start_s, start_when: null });
  return { ...moved, actions: t.actions.map((a) => (follows(t, i, a) ? { ...a, at_s: a.at_s + by } : a)) };
}

export const withEvent = (t: Poured, i: number, start_when: NonNullable<Pour["start_when"]>): Poured =>
  replaced(t, i, { start_s: null, start_when });

export const withLength = (t: Poured, i: number, duration_s: number): Poured => replaced(t, i, { duration_s });

export const withStrength = (t: Poured, i: number, strength: Pour["strength"]): Poured => replaced(t, i, { strength });

export const withWhere = (t: Poured, i: number, where: Pour["where"]): Poured => replaced(t, i, { where });

/** Pour this one before the one above it: the two change places in the order, the times stay. */
export function movedUp(t: Poured, i: number): Poured {
  const above = t.pours[i - 1];
  if (!above) return t;
  const { start_s, start_when, ...poured } = t.pours[i]!;
  const { start_s: startAbove, start_when: whenAbove, ...pouredAbove } = above;
  const first: Pour = { ...poured, start_s: startAbove, start_when: whenAbove };
  const second: Pour = { ...pouredAbove, start_s, start_when };
  // A longer pour that now comes first pushes the next one back.
  if (start_s != null && startAbove != null) second.start_s = Math.max(start_s, startAbove + first.duration_s);
  return { ...t, pours: t.pours.map((p, k) => (k === i - 1 ? first : k === i ? second : p)) };
}

/** Pour up to a total; the next pour makes up for it, so that all of the water stays the same. */
export function withTotal(t: Poured, i: number, total_g: number): Poured {
  const next = t.pours[i + 1];
  if (!next) return t;
  const before = i ? totalAt(t.pours, i - 1) : 0;
  const most = before + t.pours[i]!.water_g + next.water_g - LEAST_G;
  const total = Math.min(Math.max(total_g, before + LEAST_G), most);
  const given = total - before - t.pours[i]!.water_g;
  return replaced(replaced(t, i, { water_g: total - before }), i + 1, { water_g: next.water_g - given });
}

/** Pour one pour in two halves, the second after a pause as long as itself. */
export function split(t: Poured, i: number): Poured {
  const p = t.pours[i]!;
  const half = { ...p, water_g: p.water_g / 2, duration_s: Math.max(3, Math.round(p.duration_s / 2)) };
  const second: Pour = { ...half, start_s: Math.round(startOf(t, i) + 2 * half.duration_s), start_when: null };
  return {
    ...t,
    pours: [...t.pours.slice(0, i), half, second, ...t.pours.slice(i + 1)],
    starts: [...t.starts.slice(0, i + 1), second.start_s!, ...t.starts.slice(i + 1)],
  };
}

/** Leave a pour out; its water goes into the next one, or into the one before the last. */
export function removed(t: Poured, i: number): Poured {
  if (t.pours.length < 2) return t;
  const heir = i + 1 < t.pours.length ? i + 1 : i - 1;
  const given = replaced(withAfter(t, i, ""), heir, { water_g: t.pours[heir]!.water_g + t.pours[i]!.water_g });
  const pours = given.pours.filter((_, k) => k !== i);
  // The first pour starts the clock.
  if (i === 0) pours[0] = { ...pours[0]!, start_s: 0, start_when: null };
  return { ...given, pours, starts: t.starts.filter((_, k) => k !== i) };
}

/** Seconds from "1:15", "75" or "75 s"; null for what is no time. */
export function secondsOf(text: string): number | null {
  const plain = text.trim().toLowerCase().replace(/s$/, "").trim();
  const clock = /^(\d+)[:.](\d{2})$/.exec(plain);
  if (clock) return 60 * Number(clock[1]) + Number(clock[2]);
  return /^\d+$/.test(plain) ? Number(plain) : null;
}
