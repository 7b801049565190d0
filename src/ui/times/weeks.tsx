"use client";
import { useState } from "react";
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, XAxis, YAxis } from "recharts";
import type { Week } from "@/core/house/times/times";
import { counted } from "@/core/plain/words";
import { AXIS, Changes, Question } from "./question";
import { weekWords } from "./spans";

/** A question that is answered week by week: the middle value as a line, where half of them lie as a band, and the same numbers below. */
export function Weeks(props: {
  question: string;
  about: string;
  weeks: readonly Week[];
  /** A value in words, and as a number for the axis. */
  words: (value: number) => string;
  scale: (value: number) => number;
  unit: string;
}) {
  const { question, about, weeks, words, scale, unit } = props;
  const [open, setOpen] = useState<number | null>(null);
  const data = weeks.map(({ from, median, low, high }) => ({
    from,
    median: scale(median),
    half: [scale(low), scale(high)],
  }));
  return (
    <Question question={question} about={about} empty={weeks.length === 0}>
      <div className="h-52" aria-hidden>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height: 200 }}>
          <ComposedChart
            data={data}
            margin={{ top: 8, right: 12, bottom: 0, left: 0 }}
            accessibilityLayer={false}
            onClick={({ activeIndex }) => setOpen(weeks[Number(activeIndex)]?.from ?? null)}
          >
            <CartesianGrid stroke="var(--rule)" vertical={false} />
            <XAxis
              dataKey="from"
              type="number"
              scale="time"
              domain={["dataMin", "dataMax"]}
              ticks={weeks.map(({ from }) => from)}
              tickFormatter={weekWords}
              padding={{ left: 24, right: 24 }}
              {...AXIS}
            />
            <YAxis {...AXIS} width={64} unit={` ${unit}`} allowDecimals={false} />
            <Area dataKey="half" stroke="none" fill="var(--brass)" fillOpacity={0.18} isAnimationActive={false} />
            <Line
              dataKey="median"
              stroke="var(--brass)"
              strokeWidth={2}
              dot={{ r: 4, fill: "var(--brass)" }}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <table className="mt-2 w-full text-left">
        <thead className="text-[13px] text-soft">
          <tr>
            <th className="py-1 font-normal">Week from</th>
            <th className="font-normal">Middle</th>
            <th className="font-normal">Half of them between</th>
            <th className="font-normal">Change sets</th>
          </tr>
        </thead>
        <tbody className="divide-y divide-rule">
          {weeks.map(({ from, median, low, high, changes }) => (
            <tr key={from} className={`align-baseline ${open === from ? "bg-brass-wash" : ""}`}>
              <td className="py-1">{weekWords(from)}</td>
              <td className="font-semibold">{words(median)}</td>
              <td className="text-soft">{changes.length > 1 ? `${words(low)} and ${words(high)}` : "only one"}</td>
              <td>
                <button
                  type="button"
                  className="quiet-button"
                  aria-expanded={open === from}
                  aria-label={`${counted(changes.length, "change set")} of the week from ${weekWords(from)}`}
                  onClick={() => setOpen(open === from ? null : from)}
                >
                  {changes.length}
                </button>
                {open === from && <Changes changes={changes} />}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Question>
  );
}
