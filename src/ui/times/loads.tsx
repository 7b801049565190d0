"use client";
import { useRouter } from "next/navigation";
import { CartesianGrid, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from "recharts";
import type { Load } from "@/core/house/times/times";
import { counted } from "@/core/plain/words";
import { AXIS, Changes, Question } from "./question";
import { inDays, spanWords } from "./spans";

/** How much there was to read in what merged, and how long that took: each point is a change set. */
export function Loads({ loads }: { loads: readonly Load[] }) {
  const { push } = useRouter();
  const data = loads.map(({ change, load, took }) => ({ load, days: inDays(took), change }));
  return (
    <Question
      question="Does what is long take longer?"
      about="Each point is a change set that merged: how much there was to read in it, and how long it took from being ready to merging."
      empty={loads.length === 0}
    >
      <div className="h-56" aria-hidden>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height: 200 }}>
          <ScatterChart margin={{ top: 8, right: 12, bottom: 4, left: 0 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--rule)" />
            <XAxis dataKey="load" type="number" name="lines" unit=" lines" {...AXIS} />
            <YAxis dataKey="days" type="number" name="days" unit=" days" width={64} {...AXIS} />
            <Scatter
              data={data}
              fill="var(--brass)"
              cursor="pointer"
              isAnimationActive={false}
              onClick={({ payload }) => push(`/r/${payload.change.repository}/c/${payload.change.number}`)}
            />
          </ScatterChart>
        </ResponsiveContainer>
      </div>
      <table className="mt-2 w-full text-left">
        <thead className="text-[13px] text-soft">
          <tr>
            <th className="py-1 font-normal">Change set</th>
            <th className="font-normal">To read</th>
            <th className="font-normal">Took</th>
          </tr>
        </thead>
        <tbody className="divide-y divide-rule">
          {[...loads]
            .sort((a, b) => b.load - a.load)
            .map(({ change, load, took }) => (
              <tr key={`${change.repository} ${change.number}`} className="align-baseline">
                <td className="py-1">
                  <Changes changes={[change]} />
                </td>
                <td>{counted(load, "line")}</td>
                <td>{spanWords(took)}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </Question>
  );
}
