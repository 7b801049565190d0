"use client";
import type { Week } from "@/core/house/times/times";
import { inDays, spanWords } from "./spans";
import { Weeks } from "./weeks";

/** Spans of time, week by week. */
export function Spans(props: { question: string; about: string; weeks: readonly Week[] }) {
  return <Weeks {...props} words={spanWords} scale={inDays} unit="days" />;
}

const rounds = (value: number) => String(Math.round(value * 10) / 10);
const same = (value: number) => value;

/** How many revisions it took, week by week. */
export function Rounds({ weeks }: { weeks: readonly Week[] }) {
  return (
    <Weeks
      question="In how many revisions does it merge?"
      about="Revisions of what merged, by the week in which it did."
      words={rounds}
      scale={same}
      unit=""
      weeks={weeks}
    />
  );
}
