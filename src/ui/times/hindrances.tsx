"use client";
import { useState } from "react";
import { Bar, BarChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import type { Hindrance } from "@/core/house/times/times";
import type { ConditionKey } from "@/core/rules/condition";
import { AXIS, Changes, Question } from "./question";

/** What is asked by each kind of condition, in few words. */
const WORDS: Record<ConditionKey, string> = {
  draft: "still a draft",
  "moved-on": "the branch moved on",
  conflicts: "conflicts",
  approvals: "approvals",
  steward: "a steward’s word",
  requests: "a request for changes",
  threads: "threads to settle",
  tasks: "tasks to do",
  check: "checks",
  "work-item": "a work item",
  title: "the title",
  commits: "the commits",
  "signed-off": "signing off",
  linear: "a straight history",
  "up-to-date": "the newest target",
  load: "too much to read",
  freeze: "a freeze",
};

/** What keeps open change sets from merging now, what keeps most first. */
export function Hindrances({ hindrances }: { hindrances: readonly Hindrance[] }) {
  const [open, setOpen] = useState<ConditionKey | null>(null);
  const data = hindrances.map(({ key, changes }) => ({ key, name: WORDS[key], many: changes.length }));
  return (
    <Question
      question="What does the gate wait for?"
      about="What keeps the change sets that are open now from merging. One may wait for several things."
      empty={hindrances.length === 0}
    >
      <div style={{ height: 24 + 30 * data.length }} aria-hidden>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 800, height: 200 }}>
          <BarChart
            data={data}
            layout="vertical"
            margin={{ top: 0, right: 12, bottom: 0, left: 0 }}
            accessibilityLayer={false}
          >
            <XAxis type="number" allowDecimals={false} {...AXIS} />
            <YAxis type="category" dataKey="name" width={160} {...AXIS} />
            <Bar
              dataKey="many"
              fill="var(--brass)"
              barSize={14}
              cursor="pointer"
              isAnimationActive={false}
              onClick={({ payload }) => setOpen(payload.key)}
            />
          </BarChart>
        </ResponsiveContainer>
      </div>
      <table className="mt-2 w-full text-left">
        <thead className="text-[13px] text-soft">
          <tr>
            <th className="py-1 font-normal">It waits for</th>
            <th className="font-normal">Change sets</th>
          </tr>
        </thead>
        <tbody className="divide-y divide-rule">
          {hindrances.map(({ key, changes }) => (
            <tr key={key} className={`align-baseline ${open === key ? "bg-brass-wash" : ""}`}>
              <td className="py-1">{WORDS[key]}</td>
              <td>
                <button
                  type="button"
                  className="quiet-button"
                  aria-expanded={open === key}
                  aria-label={`${changes.length} waiting for ${WORDS[key]}`}
                  onClick={() => setOpen(open === key ? null : key)}
                >
                  {changes.length}
                </button>
                {open === key && <Changes changes={changes} />}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Question>
  );
}
