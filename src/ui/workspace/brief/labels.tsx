"use client";
import Link from "next/link";
import { DropdownMenu } from "radix-ui";
import type { Label } from "@/core/house/labels/labels";
import { FlagMark, LabelTag } from "../../labels/label-tag";
import { useChangeSet } from "../state/context";
import { useDo } from "../state/use-do";

/** The labels of the change set, and the way to give it others of its repository. */
export function Labels() {
  const { view } = useChangeSet();
  const act = useDo();
  const { allLabels: all, pathLabels, labels: given, repository } = view;
  const held = all.filter(({ name }) => given.includes(name) || pathLabels.includes(name));
  const may = view.me.label.may;
  if (all.length === 0) return null;
  const turn = ({ name }: Label) => {
    const has = given.includes(name);
    const [put, take] = [
      { kind: "label" as const, put: [name], take: [] },
      { kind: "label" as const, put: [], take: [name] },
    ];
    void act({
      request: has ? take : put,
      says: has ? `It is not labelled ${name} any more.` : `It is labelled ${name}.`,
      undo: has ? put : take,
    });
  };
  return (
    <section aria-label="Labels" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Labels</h2>
      {held.length > 0 ? (
        <ul className="mt-1 flex flex-wrap gap-x-4 gap-y-1">
          {held.map((label) => (
            <li key={label.name}>
              <Link
                prefetch={false}
                className="hover:underline"
                href={`/lists?${new URLSearchParams({ q: `label:${label.name} in:${repository}` })}`}
              >
                <LabelTag label={{ ...label, byPath: !given.includes(label.name) }} />
              </Link>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-soft">It has none.</p>
      )}
      {may && (
        <DropdownMenu.Root>
          <DropdownMenu.Trigger className="button mt-2">Label it …</DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="start" sideOffset={4} className="sheet z-40 max-h-80 overflow-y-auto p-1.5">
              {all.map((label) => (
                <DropdownMenu.CheckboxItem
                  key={label.name}
                  checked={given.includes(label.name)}
                  disabled={pathLabels.includes(label.name) && !given.includes(label.name)}
                  onSelect={() => turn(label)}
                  className="flex cursor-pointer items-baseline gap-2 rounded px-3 py-1 outline-none data-[disabled]:cursor-default data-[highlighted]:bg-brass-wash"
                >
                  <span aria-hidden className="w-4 flex-none">
                    {given.includes(label.name) || pathLabels.includes(label.name) ? "✓" : ""}
                  </span>
                  <FlagMark flag={label.flag} />
                  <span>{label.name}</span>
                  <span className="text-[13px] text-soft">
                    {pathLabels.includes(label.name) && !given.includes(label.name)
                      ? "by what it touches"
                      : label.about}
                  </span>
                </DropdownMenu.CheckboxItem>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
    </section>
  );
}
