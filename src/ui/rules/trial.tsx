"use client";
import Link from "next/link";
import { counted, inFigures } from "@/core/plain/words";
import type { RuleTrial } from "@/core/views/keeping-view";

/** What rules that are not saved would mean for the change sets that are there. */
export function Trial({ trial: { errors, notes, tried }, repository }: { trial: RuleTrial; repository: string }) {
  const held = tried.filter(({ blocked }) => blocked.length > 0);
  const newly = tried.filter((one) => one.newly.length > 0);
  const open = tried.filter((one) => one.open);
  const merged = tried.filter((one) => !one.open);
  const list = (title: string, some: RuleTrial["tried"]) =>
    some.length > 0 && (
      <>
        <h3 className="mt-4 font-semibold">{title}</h3>
        <ul className="mt-1 divide-y divide-rule">
          {some.map(({ number, title: words, target, rule, blocked, newly: fresh }) => (
            <li key={number} className="py-1.5">
              <p>
                <span
                  className={`text-[13px] font-semibold ${fresh.length > 0 ? "text-clay" : blocked.length > 0 ? "text-soft" : "text-teal"}`}
                >
                  {fresh.length > 0
                    ? "○ newly held up"
                    : blocked.length > 0
                      ? "○ held up, as it is now"
                      : "✓ goes through"}
                </span>{" "}
                <Link prefetch={false} className="hover:underline" href={`/r/${repository}/c/${number}`}>
                  {number} {words}
                </Link>{" "}
                <span className="text-soft">
                  into {target}, {rule ? `by the rule for ${rule}` : "for which there is no rule"}
                </span>
              </p>
              {fresh.length > 0 && <p className="pl-4">{fresh.join(" ")}</p>}
              {blocked.length > fresh.length && (
                <p className="pl-4 text-soft">{blocked.filter((words) => !fresh.includes(words)).join(" ")}</p>
              )}
            </li>
          ))}
        </ul>
      </>
    );
  return (
    <section aria-label="Trial" className="mt-6 rounded-md border border-rule bg-paper px-5 py-4">
      <h2 className="font-serif text-xl font-semibold">If these rules counted</h2>
      {errors.map((words) => (
        <p key={words} className="text-clay">
          {words}
        </p>
      ))}
      {notes.map((words) => (
        <p key={words} className="text-ochre">
          {words}
        </p>
      ))}
      <p className="text-soft">
        {newly.length === 0 ? "Nothing" : counted(newly.length, "change set")} of {tried.length} would be newly held up;{" "}
        {inFigures(held.length)} would be held up in all.
      </p>
      {list("Open", open)}
      {list("Merged lately, as they were then", merged)}
    </section>
  );
}
