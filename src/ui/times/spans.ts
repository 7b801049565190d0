import { counted } from "@/core/plain/words";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** A span of time in milliseconds, in the unit that fits it. */
export function spanWords(span: number): string {
  if (span < HOUR) return counted(Math.round(span / 60_000), "minute");
  if (span < 2 * DAY) return counted(Math.round((span / HOUR) * 10) / 10, "hour");
  return counted(Math.round((span / DAY) * 10) / 10, "day");
}

/** The same in days, for an axis. */
export function inDays(span: number): number {
  return Math.round((span / DAY) * 100) / 100;
}

/** A week by the day on which it began, as the reader writes dates. */
export function weekWords(from: number): string {
  return new Date(from).toLocaleDateString(undefined, { month: "short", day: "numeric", timeZone: "UTC" });
}
