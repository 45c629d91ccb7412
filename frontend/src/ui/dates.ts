/** Dates by the device's language and zone: today 7:24, yesterday 7:24, Fri 27 Nov, 3 Mar 2026. */

const DAY_MS = 86_400_000;
/** So many days back a weekday tells more than a year. */
const WEEKDAY_DAYS = 60;

const language = () => globalThis.navigator?.language || "en-GB";

const dayOf = (d: Date) => Math.round(Date.UTC(d.getFullYear(), d.getMonth(), d.getDate()) / DAY_MS);

/** "7:24", or as the device's language has it where that counts to twelve. */
export function timeOf(iso: string): string {
  const d = new Date(iso);
  const written = new Intl.DateTimeFormat(language(), { hour: "numeric", minute: "2-digit" });
  return written.resolvedOptions().hour12
    ? written.format(d)
    : `${d.getHours()}:${String(d.getMinutes()).padStart(2, "0")}`;
}

/** "today", "yesterday", "Fri 27 Nov" or "3 Mar 2026". */
export function dayOfDate(iso: string, now = new Date()): string {
  const d = new Date(iso);
  const days = dayOf(now) - dayOf(d);
  if (Math.abs(days) <= 1) return new Intl.RelativeTimeFormat(language(), { numeric: "auto" }).format(-days, "day");
  const near = Math.abs(days) < WEEKDAY_DAYS;
  const parts: Intl.DateTimeFormatOptions = near
    ? { weekday: "short", day: "numeric", month: "short" }
    : { day: "numeric", month: "short", year: "numeric" };
  return new Intl.DateTimeFormat(language(), parts).format(d);
}

/** The day, with the time while that still tells one brew from the next. */
export function dayAndTime(iso: string, now = new Date()): string {
  const old = dayOf(now) - dayOf(new Date(iso)) >= WEEKDAY_DAYS;
  return old ? dayOfDate(iso, now) : `${dayOfDate(iso, now)} ${timeOf(iso)}`;
}

/** "27 Nov 2026 7:24": a date that still says all when it is read years later, on paper. */
export function fullDate(iso: string): string {
  const parts: Intl.DateTimeFormatOptions = { day: "numeric", month: "short", year: "numeric" };
  return `${new Intl.DateTimeFormat(language(), parts).format(new Date(iso))} ${timeOf(iso)}`;
}
