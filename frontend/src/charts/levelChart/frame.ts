/** What really happened, drawn over the plan in the accent. */
export interface Actual {
  t_s: number[];
  poured_g?: (number | null)[];
  drink_g?: (number | null)[];
  level_t_s?: number[];
  level_mm?: number[];
  bare_bed_s?: number | null;
}

/** Room for the axis of grams, px. */
export const LEFT = 64;

/** Move the end of a pour to a time and a total. */
export type MovePour = (index: number, endS: number, totalG: number) => void;
