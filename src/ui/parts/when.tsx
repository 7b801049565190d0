"use client";
import { memo, useEffect, useState } from "react";

const DAY = 24 * 3600 * 1000;

/** A time as one would say it: the hour today, the weekday this week, else the date. The full time is in the title. */
export const When = memo(function When({ at }: { at: number }) {
  const [now, setNow] = useState<number | null>(null);
  useEffect(() => setNow(Date.now()), []);
  const date = new Date(at);
  return (
    <time dateTime={date.toISOString()} title={now === null ? undefined : date.toLocaleString()}>
      {now === null ? date.toISOString().slice(0, 10) : spoken(date, now)}
    </time>
  );
});

function spoken(date: Date, now: number): string {
  const hour = date.toLocaleTimeString("en", { hour: "2-digit", minute: "2-digit", hour12: false });
  const today = new Date(now);
  if (date.toDateString() === today.toDateString()) return hour;
  if (now - date.getTime() < 6 * DAY && date.getTime() < now)
    return `${date.toLocaleDateString("en", { weekday: "long" })} ${hour}`;
  const sameYear = date.getFullYear() === today.getFullYear();
  return date.toLocaleDateString("en", { day: "numeric", month: "short", ...(sameYear ? {} : { year: "numeric" }) });
}
