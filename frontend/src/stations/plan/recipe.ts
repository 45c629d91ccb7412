import { typed, type Schemas } from "../../api/client";
import { clock } from "../../ui/words";
import { METRIC, shownIn, type Units } from "../../ui/units";
export type Amount = "dose" | "ratio" | "water" | "cup";
type Pour = Schemas["PourDocument"];

/** The recipe as it is typed; the server reads it. Two amounts are given, the others follow. */
export interface Fields {
  given: [Amount, Amount];
  dose: string;
  ratio: string;
  water: string;
  cup: string;
  heat: string;
  brewer: string;
  shape: Schemas["Recipe"]["shape"];
  brewerName: string | null;
  filter: string | null;
  lot: string;
  school: string;
  options: Record<string, string>;
  pours: Pour[] | null;
  /** The coffee that they were set for, g: with it the bloom grows, and the others with the water. */
  pouredDose: number | null;
  /** When the bed should be bare, as typed; empty for no target. */
  targetTime: string;
  material: "plastic" | "glass" | "ceramic" | "metal";
  preheated: boolean;
  lid: boolean;
  /** What one change made of the style's actions, steep and drink; it goes with the style. */
  changed: Pick<Schemas["Recipe"], "actions" | "steep" | "after_g">;
}

export const FIRST: Fields = {
  given: ["dose", "ratio"],
  dose: "17",
  ratio: "16.5",
  water: "",
  cup: "",
  heat: "93",
  brewer: "ribbed-cone",
  shape: null,
  brewerName: null,
  filter: null,
  lot: "",
  school: "staged",
  options: {},
  pours: null,
  pouredDose: null,
  targetTime: "",
  material: "plastic",
  preheated: true,
  lid: false,
  changed: {},
};

const text = (n: number | null | undefined, digits = 2) => (n == null ? "" : String(Number(Number(n).toFixed(digits))));

export function fieldsOf(r: Schemas["Recipe"]): Fields {
  const held: Amount[] = [
    ...(r.dose_g != null ? (["dose"] as const) : []),
    ...(r.ratio != null ? (["ratio"] as const) : []),
    ...(r.water_g != null ? (["water"] as const) : []),
    ...(r.cup_g != null ? (["cup"] as const) : []),
  ];
  return {
    given: held.length >= 2 ? [held[0]!, held[1]!] : ["dose", "ratio"],
    dose: text(r.dose_g ?? 17),
    ratio: text(r.ratio ?? 16.5),
    water: text(r.water_g),
    cup: text(r.cup_g),
    heat: text(r.water_c ?? 93, 1),
    brewer: r.brewer ?? "ribbed-cone",
    shape: r.shape ?? null,
    brewerName: r.brewer_name ?? null,
    filter: r.filter ?? null,
    lot: r.filter_lot ?? "",
    school: r.school ?? "staged",
    options: r.options ?? {},
    pours: r.pours ?? null,
    pouredDose: r.poured_dose_g ?? null,
    targetTime: r.target_time_s == null ? "" : clock(r.target_time_s),
    material: r.heat?.material ?? "plastic",
    preheated: r.heat?.preheated ?? true,
    lid: r.heat?.lid ?? false,
    changed: { actions: r.actions, steep: r.steep, after_g: r.after_g },
  };
}

export function recipeOf(f: Fields): Schemas["Recipe"] {
  const amount = (name: Amount) => (f.given.includes(name) ? typed(f[name]) : null);
  return {
    dose_g: amount("dose"),
    ratio: amount("ratio"),
    water_g: amount("water"),
    cup_g: amount("cup"),
    water_c: typed(f.heat),
    brewer: f.brewer,
    shape: f.shape,
    brewer_name: f.brewerName,
    filter: f.filter,
    filter_lot: f.lot,
    school: f.school,
    options: f.options,
    pours: f.pours,
    poured_dose_g: f.pours ? f.pouredDose : null,
    target_time_s: f.targetTime.trim() ? typed(f.targetTime) : null,
    heat: { material: f.material, preheated: f.preheated, lid: f.lid },
    ...f.changed,
  };
}

/** Type an amount: it and the last one typed are then the two that are given. Pours of one's own grow with the water. */
export function withAmount(f: Fields, name: Amount, value: string): Fields {
  const other = f.given[0] === name ? f.given[1] : f.given[0];
  return { ...f, [name]: value, given: [name, other] };
}

/**
 * Clear a given amount: it follows again from what is left, and no other figure changes. `now` is what all of them are by
 * the plan that is shown.
 */
export function withoutAmount(f: Fields, name: Amount, now: Record<Amount, string>): Fields {
  if (!f.given.includes(name)) return f;
  const other = f.given[0] === name ? f.given[1] : f.given[0];
  const next = (["dose", "ratio", "water", "cup"] as const).find((a) => a !== name && a !== other)!;
  // A ratio and a dose say more of what was meant than the water that follows from them.
  const instead = name === "dose" || name === "ratio" ? (other === "water" || other === "cup" ? next : "water") : next;
  return { ...f, [name]: "", [instead]: now[instead], given: [other, instead] };
}

/** Whether a change drops pours, stirs or a steep that were set by hand. */
export const dropsOwnPours = (before: Fields, after: Fields): boolean =>
  (before.pours !== null && after.pours === null) ||
  (before.changed.actions != null && after.changed.actions == null && before.pours !== null);

/** A figure that a change of brewer or style replaced, and how to have it back. */
export interface Replaced {
  words: string;
  now: string;
  keep: (f: Fields) => Fields;
}

/** What a change of brewer or style replaces of what was typed before; each can be kept. */
export function replacedBy(before: Fields, after: Fields, units: Units = METRIC): Replaced[] {
  if (before.school === after.school && before.brewer === after.brewer) return [];
  const mass = (text: string) => `${shownIn(text, "mass", units)} ${units.mass}`;
  const shown = (name: Amount, text: string) => (name === "ratio" ? `1:${text}` : mass(text));
  const found = before.given
    .filter((name) => !after.given.includes(name) || before[name] !== after[name])
    .map((name) => ({
      words: shown(name, before[name]),
      now: after.given.includes(name) ? shown(name, after[name]) : "",
      keep: (f: Fields) => withAmount(f, name, before[name]),
    }));
  if (before.heat === after.heat) return found;
  const heat = (text: string) => `${shownIn(text, "heat", units)} °${units.temperature}`;
  return [
    ...found,
    { words: heat(before.heat), now: heat(after.heat), keep: (f: Fields) => ({ ...f, heat: before.heat }) },
  ];
}

/** Whether two lists of pours are the same pours. */
export function samePours(a: Pour[] | null | undefined, b: Pour[] | null | undefined): boolean {
  const told = (p: Pour) =>
    JSON.stringify([p.start_s ?? null, p.start_when ?? null, p.duration_s, p.water_g, p.strength, p.where ?? "spiral"]);
  return (a?.length ?? 0) === (b?.length ?? 0) && (a ?? []).every((p, i) => told(p) === told(b![i]!));
}

/** Move the end of a pour: a timed one in time, any one in water, which the next pour makes up for. */
export function movedPour(pours: Pour[], starts: number[], index: number, endS: number, totalG: number): Pour[] {
  const before = pours.slice(0, index).reduce((sum, p) => sum + p.water_g, 0);
  const whole = pours.reduce((sum, p) => sum + p.water_g, 0);
  const next = pours[index + 1];
  const most = next ? before + pours[index]!.water_g + next.water_g - 5 : whole;
  const total = Math.min(Math.max(before + 5, totalG), most);
  return pours.map((p, i) => {
    if (i === index) {
      const water_g = Math.round(next ? total - before : p.water_g);
      // The first pour starts the clock; one that waits for an event has no time of its own.
      if (p.start_s == null || index === 0) return { ...p, water_g };
      const earliest = index ? (pours[index - 1]!.start_s ?? starts[index - 1] ?? 0) + pours[index - 1]!.duration_s : 0;
      const latest = next?.start_s != null ? next.start_s - p.duration_s : Infinity;
      return { ...p, water_g, start_s: Math.round(Math.min(latest, Math.max(earliest, endS - p.duration_s))) };
    }
    if (i === index + 1) return { ...p, water_g: Math.round(before + pours[index]!.water_g + p.water_g - total) };
    return p;
  });
}
