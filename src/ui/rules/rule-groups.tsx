"use client";
import { useState } from "react";
import type { Rules } from "@/core/rules/rule";
import { namesIn } from "./rule-inputs";

/** People who are named together, as @name, in rules. */
export function RuleGroups({
  groups,
  onChange,
}: {
  groups: Rules["groups"];
  onChange: ((groups: Rules["groups"]) => void) | null;
}) {
  const [name, setName] = useState("");
  const known = Object.entries(groups);
  if (known.length === 0 && !onChange) return null;
  return (
    <section aria-label="Groups" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Groups</h2>
      <p className="text-soft">People who are named together in a rule, as @name.</p>
      <ul className="mt-2 grid gap-2">
        {known.map(([group, people]) => (
          <li key={group} className="flex items-center gap-3">
            <code className="w-32 flex-none truncate font-mono text-[13px]">@{group}</code>
            {onChange ? (
              <>
                <input
                  aria-label={`People of @${group}, parted by commas`}
                  className="field flex-1"
                  defaultValue={people.join(", ")}
                  onBlur={(event) => onChange({ ...groups, [group]: namesIn(event.target.value) })}
                />
                <button
                  type="button"
                  className="quiet-button text-clay"
                  onClick={() => onChange(Object.fromEntries(known.filter(([other]) => other !== group)))}
                >
                  remove
                </button>
              </>
            ) : (
              people.join(", ")
            )}
          </li>
        ))}
      </ul>
      {onChange && (
        <form
          className="mt-2 flex gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            const fresh = name.trim().replace(/^@/, "");
            if (fresh === "" || Object.hasOwn(groups, fresh)) return;
            onChange({ ...groups, [fresh]: [] });
            setName("");
          }}
        >
          <input
            aria-label="Name of a new group"
            placeholder="name of a new group"
            className="field w-56"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <button type="submit" className="button">
            Add
          </button>
        </form>
      )}
    </section>
  );
}
