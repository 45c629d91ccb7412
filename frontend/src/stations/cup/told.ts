import { typed, type Schemas } from "../../api/client";
import type { ToldCup } from "../../api/passes";
import { clock } from "../../ui/words";
import { OWN, type Aim, type Lean } from "./Alternatives";
import type { Told } from "./Evidence";

export const NOTHING: Told = {
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
  back: "",
};

export function entryOf(
  told: Told,
  target: Aim,
  changeFirst: Schemas["CupEntry"]["change_first"],
  lean: Lean,
): Schemas["CupEntry"] {
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
      held_back_g: number(told.back),
    },
    target:
      target.name === OWN
        ? {
            ey_percent: [typed(target.own[0]!), typed(target.own[1]!)],
            tds_percent: [typed(target.own[2]!), typed(target.own[3]!)],
          }
        : target.name,
    change_first: changeFirst,
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
    back: outcome.held_back_g?.toString() ?? "",
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

/** All that is typed and tapped here. */
export interface CupDraft {
  told: Told;
  target: Aim;
  changeFirst: NonNullable<Schemas["CupEntry"]["change_first"]>;
  lean: Lean;
}

/** A draft as it is kept with its pass. */
function kept({ told, target, changeFirst, lean }: CupDraft): ToldCup {
  return {
    ...told,
    water: told.water ?? null,
    target: target.name,
    own_target: target.own,
    change_first: changeFirst,
    lean,
  };
}

/** What of a draft is sent: all of it the first time, then what changed. */
export function changeOf(before: CupDraft, after: CupDraft, first: boolean): Partial<ToldCup> {
  const [old, now] = [kept(before), kept(after)];
  if (first) return now;
  const names = Object.keys(now) as (keyof ToldCup)[];
  return Object.fromEntries(
    names.filter((n) => JSON.stringify(old[n]) !== JSON.stringify(now[n])).map((n) => [n, now[n]]),
  );
}

/** A draft as its pass keeps it, over what is known without it. */
export function draftOf(told: Partial<ToldCup>, first: CupDraft): CupDraft {
  const { target, own_target, change_first, lean, ...words } = told;
  return {
    told: { ...first.told, ...words },
    target: { name: target ?? first.target.name, own: own_target?.length ? own_target : first.target.own },
    changeFirst: change_first ?? first.changeFirst,
    lean: lean === undefined ? first.lean : lean,
  };
}

/** What is known before anything is typed: the slip's, or what the brew showed. */
export function firstOf(bench: Schemas["WorkbenchView"], slip?: Schemas["SlipDetail"]): CupDraft {
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
    changeFirst: bench.change_first as CupDraft["changeFirst"],
    lean: slip?.document.lean ?? null,
  };
}
