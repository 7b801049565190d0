"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { addTo } from "@/core/plain/grouped";
import { counted } from "@/core/plain/words";
import type { CommandRequest } from "@/core/review/families/table";
import type { Invited } from "@/core/review/shapes";
import type { ListLine } from "@/core/views/desk-view";
import { ask, reasonFrom } from "../asking/ask";
import { newId } from "../asking/new-id";
import { ChangeLines } from "./change-lines";
import { type ShownLine, shownLine } from "./shown-line";

/** Who can be asked, and what change sets can be labelled. */
interface Offers {
  people: readonly { id: string; fullName: string }[];
  labels: readonly string[];
}

/** What is done to each of several change sets, what takes it back, and how it is told. */
interface Deed {
  request: CommandRequest;
  undo: CommandRequest;
  says: string;
}

/** Under which heading a line stands, in their order. */
const GROUPS: Record<ListLine["waits"], string> = {
  me: "For you to move",
  could: "You could bring it on",
  them: "For others to move",
  none: "With others, or settled",
};

/** A page of a list, by who has to move next where `grouped`; several of them can be asked for, labelled or made ready at once. */
export function Several({ lines, grouped, ...offers }: Offers & { lines: readonly ListLine[]; grouped: boolean }) {
  const { refresh } = useRouter();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [told, setTold] = useState<{ says: string; undo: (() => void) | null } | null>(null);
  const [busy, setBusy] = useState(false);
  const picked = lines.filter((line) => chosen.has(nameOf(line)));
  const turn = (line: Pick<ShownLine, "repository" | "number">, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(nameOf(line));
    else next.delete(nameOf(line));
    setChosen(next);
  };
  const carry = async (to: readonly ListLine[], { request, undo, says }: Deed) => {
    setBusy(true);
    const done: ListLine[] = [];
    const refused = new Map<string, string[]>();
    // One after the other: what is refused is told by its reason, and hinders none of the others.
    for (const line of to) {
      const parts = { repo: line.repository, number: String(line.number) };
      try {
        await ask("POST /api/repos/{repo}/changes/{number}", { parts, body: { ...request, key: newId() } });
        done.push(line);
      } catch (error) {
        addTo(refused, reasonFrom(error), nameOf(line));
      }
    }
    const said = [
      ...(done.length > 0 ? [`${counted(done.length, "change set")}: ${says}`] : []),
      ...[...refused].map(([why, names]) => `Not ${names.join(", ")}: ${why}`),
    ];
    const back = { request: undo, undo: request, says: "as it was before." };
    setTold({ says: said.join(" "), undo: done.length > 0 ? () => void carry(done, back) : null });
    setBusy(false);
    refresh();
  };
  const groups = grouped
    ? (Object.keys(GROUPS) as ListLine["waits"][]).flatMap((waits) => {
        const of = lines.filter((line) => line.waits === waits);
        return of.length > 0 ? [{ title: GROUPS[waits], lines: of }] : [];
      })
    : [{ title: "", lines }];
  return (
    <>
      {groups.map(({ title, lines: of }) => (
        <section key={title} aria-label={title || "Change sets"}>
          {title !== "" && groups.length > 1 && <h2 className="mt-5 font-serif text-lg font-semibold">{title}</h2>}
          <ChangeLines
            lines={of.map(shownLine)}
            before={(line) => (
              <input
                type="checkbox"
                className="size-6 flex-none"
                aria-label={`Choose ${nameOf(line)}, ${line.title}`}
                checked={chosen.has(nameOf(line))}
                onChange={(event) => turn(line, event.target.checked)}
              />
            )}
          />
        </section>
      ))}
      <div className="sticky bottom-0 z-20 mt-3" role="status">
        {(picked.length > 0 || told) && (
          <div className="sheet flex flex-wrap items-center gap-x-4 gap-y-2 px-4 py-2">
            {told && (
              <p className="w-full">
                {told.says}{" "}
                {told.undo && (
                  <button type="button" className="quiet-button" disabled={busy} onClick={told.undo}>
                    undo
                  </button>
                )}
              </p>
            )}
            {picked.length > 0 && (
              <>
                <span className="font-semibold">{picked.length} chosen</span>
                <Choose
                  label="Ask for a review"
                  disabled={busy}
                  options={[
                    ...[...ROLES].map(([role, words]) => ({ value: `role:${role}`, words })),
                    ...offers.people.map(({ id, fullName }) => ({ value: id, words: fullName })),
                  ]}
                  onChoose={(value, words) => void carry(picked, asking(value, words))}
                />
                {offers.labels.length > 0 && (
                  <Choose
                    label="Label"
                    disabled={busy}
                    options={offers.labels.map((name) => ({ value: name, words: name }))}
                    onChoose={(name) => void carry(picked, labelling(name))}
                  />
                )}
                <button type="button" className="button" disabled={busy} onClick={() => void carry(picked, READYING)}>
                  Make ready
                </button>
                <button
                  type="button"
                  className="quiet-button ml-auto"
                  onClick={() => setChosen(chosen.size < lines.length ? new Set(lines.map(nameOf)) : new Set())}
                >
                  {chosen.size < lines.length ? "choose all shown" : "choose none"}
                </button>
              </>
            )}
          </div>
        )}
      </div>
    </>
  );
}

const ROLES = new Map<"contributor" | "keeper", string>([
  ["contributor", "any contributor"],
  ["keeper", "any keeper"],
]);

const READYING: Deed = { request: { kind: "ready" }, undo: { kind: "draft" }, says: "ready." };

function asking(value: string, words: string): Deed {
  const [, role] = /^role:(\w+)$/.exec(value) ?? [];
  const one: Invited = role ? { role: role as "contributor" } : { person: value };
  return { request: { kind: "ask", invited: [one] }, undo: { kind: "unask", invited: one }, says: `${words} asked.` };
}

function labelling(name: string): Deed {
  const [put, take] = [
    { kind: "label" as const, put: [name], take: [] },
    { kind: "label" as const, put: [], take: [name] },
  ];
  return { request: put, undo: take, says: `labelled ${name}.` };
}

function nameOf({ repository, number }: { repository: string; number: number }): string {
  return `${repository} ${number}`;
}

/** Chooses one of several and is as before afterwards. */
function Choose(props: {
  label: string;
  disabled: boolean;
  options: readonly { value: string; words: string }[];
  onChoose: (value: string, words: string) => void;
}) {
  const { label, disabled, options, onChoose } = props;
  return (
    <select
      className="field w-auto max-w-full"
      aria-label={label}
      disabled={disabled}
      value=""
      onChange={({ target }) => onChoose(target.value, target.selectedOptions[0].textContent ?? "")}
    >
      <option value="" disabled>
        {label} …
      </option>
      {options.map(({ value, words }) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </select>
  );
}
