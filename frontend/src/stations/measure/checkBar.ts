/** The true length of the printed card's check bar, mm, where this device's printer scaled the card. */

import { readNumber } from "../../ui/words";

const KEY = "hakari.bar_mm";
export const DRAWN_MM = 40;

export function readBar(): number | null {
  const value = Number(localStorage.getItem(KEY));
  return Number.isFinite(value) && value > 0 && value !== DRAWN_MM ? value : null;
}

/** Keep what was typed; nothing or the drawn length takes the correction away. */
export function keepBar(text: string): boolean {
  const value = readNumber(text, "mm");
  if (!text.trim() || value === DRAWN_MM) localStorage.removeItem(KEY);
  else if (Number.isFinite(value) && Math.abs(value / DRAWN_MM - 1) <= 0.08) localStorage.setItem(KEY, String(value));
  else return false;
  return true;
}
