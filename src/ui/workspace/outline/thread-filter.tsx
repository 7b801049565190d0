"use client";
import { DropdownMenu } from "radix-ui";
import { byName, useChangeSet } from "../state/context";
import { fits, type ThreadFilter } from "./items";

const WORDS: [ThreadFilter, string][] = [
  ["all", "all of them"],
  ["mine", "those I am in"],
  ["unanswered", "waiting for the author"],
  ["settle", "to settle before merging"],
];

/** Which threads the outline lists: each choice with how many it leaves. */
export function ThreadFilterMenu({
  filter,
  onFilter,
}: {
  filter: ThreadFilter;
  onFilter: (filter: ThreadFilter) => void;
}) {
  const { view } = useChangeSet();
  const people = [...new Set(view.threads.flatMap(({ comments }) => comments.map(({ by }) => by)))];
  const choices = [...WORDS, ...people.map((id): [ThreadFilter, string] => [`by ${id}`, `with ${byName(view, id)}`])];
  const chosen = choices.find(([one]) => one === filter)?.[1] ?? WORDS[0][1];
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Which threads: ${chosen}`}
        className="mx-2 flex max-w-full items-baseline gap-1 rounded px-2 py-0.5 text-[13px] text-slate hover:bg-brass-wash"
      >
        <span className="min-w-0 truncate">{chosen}</span>
        <span aria-hidden>▾</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="sheet z-40 max-h-80 overflow-y-auto p-1.5">
          <DropdownMenu.RadioGroup value={filter} onValueChange={(value) => onFilter(value as ThreadFilter)}>
            {choices.map(([one, words]) => (
              <DropdownMenu.RadioItem
                key={one}
                value={one}
                className="flex cursor-pointer items-baseline gap-2 rounded px-3 py-1 outline-none data-[highlighted]:bg-brass-wash data-[state=checked]:font-semibold"
              >
                <span className="flex-1">{words}</span>
                <span className="font-normal text-soft">
                  {view.threads.filter((thread) => fits(thread, one, view)).length}
                </span>
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
