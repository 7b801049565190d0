"use client";
import { useState } from "react";
import { makeRule, type Rule, type Rules } from "@/core/rules/rule";
import { ruleWords } from "@/core/rules/rule-words";
import type { RuleTrial } from "@/core/views/keeping-view";
import { addressOf, ask, reasonFrom } from "../asking/ask";
import { useDraft } from "../kept/use-draft";
import { When } from "../parts/when";
import { namesIn, RuleFields } from "./rule-fields";
import { TagRights } from "./tag-rights";
import { Trial } from "./trial";

export interface EditionView {
  version: number;
  /** A name; null for what was not done by a person. */
  by: string | null;
  at: number;
  note: string;
  rules: Rules;
}

/** The rules of a repository: read by everyone in sentences, changed by keepers, tried before they are saved. */
export function RulesPage({
  repository,
  mayEdit,
  rules: kept,
  version: keptVersion,
  people,
  history: before,
}: {
  repository: string;
  mayEdit: boolean;
  rules: Rules;
  version: number | null;
  people: string[];
  history: EditionView[];
}) {
  const [saved, setSaved] = useState({ rules: kept, version: keptVersion });
  const draft = useDraft<{ rules: Rules; version: number | null }>(`rules ${repository}`, {
    rules: kept,
    version: keptVersion,
  });
  const [history, setHistory] = useState(before);
  const [editing, setEditing] = useState<number | null>(null);
  const [note, setNote] = useState("");
  const [trial, setTrial] = useState<RuleTrial | null>(null);
  const [said, setSaid] = useState<{ words: string; wrong: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const parts = { repo: repository };
  const rules = draft.begun ? draft.value.rules : saved.rules;
  const changed = JSON.stringify(rules) !== JSON.stringify(saved.rules);
  const change = (next: Rules) => {
    draft.change({ rules: next, version: draft.begun ? draft.value.version : saved.version });
    setTrial(null);
    setSaid(null);
  };
  const undoAll = () => {
    draft.forget();
    setTrial(null);
    setSaid(null);
  };
  const withRule = (at: number, rule: Rule) =>
    change({ ...rules, rules: rules.rules.map((old, i) => (i === at ? rule : old)) });
  const attempt = async (work: () => Promise<void>) => {
    setBusy(true);
    try {
      await work();
    } catch (error) {
      setSaid({ words: reasonFrom(error), wrong: true });
    }
    setBusy(false);
  };
  const tryThem = () =>
    attempt(async () => setTrial(await ask("POST /api/repos/{repo}/rules/try", { parts, body: { rules } })));
  const save = () =>
    attempt(async () => {
      const body = { rules, note, version: draft.value.version };
      const made = await ask("PUT /api/repos/{repo}/rules", { parts, body });
      setSaved({ rules: made.rules, version: made.version });
      draft.forget();
      setHistory([{ ...made, by: "you" }, ...history]);
      setNote("");
      setEditing(null);
      setSaid({ words: ["Saved. It counts from now on.", ...made.notes].join("\n"), wrong: false });
    });
  const take = (file: File | undefined) =>
    file &&
    attempt(async () => {
      const given = readFile(await file.text());
      if (given === null)
        return setSaid({ words: `${file.name} is not JSON: nothing was taken from it.`, wrong: true });
      // The server says what is wrong with it; what it lacks is filled in there.
      setTrial(await ask("POST /api/repos/{repo}/rules/try", { parts, body: { rules: given } }));
      change(given as Rules);
      setSaid({ words: `These are the rules of ${file.name}: look at them, and save them.`, wrong: false });
    });
  return (
    <main className="mx-auto max-w-5xl px-6 pb-20">
      <div className="mt-8 flex items-start justify-between gap-6">
        <div>
          <h1 className="font-serif text-3xl font-semibold">Rules of {repository}</h1>
          <p className="max-w-2xl text-soft">
            What must be true before a change set merges into a branch, and whether pushes may go around that. The most
            exact rule that fits a branch counts.
          </p>
        </div>
        <p className="flex flex-none gap-3">
          <a className="button" href={addressOf("GET /api/repos/{repo}/rules", { parts })} download>
            Export
          </a>
          {mayEdit && (
            <label className="button cursor-pointer focus-within:outline-2">
              Import
              <input
                type="file"
                accept="application/json,.json"
                className="sr-only"
                onChange={(event) => void take(event.target.files?.[0])}
              />
            </label>
          )}
        </p>
      </div>
      {rules.rules.length === 0 && (
        <p className="mt-6 rounded-md border border-l-4 border-rule border-l-clay bg-paper px-4 py-3">
          There is no rule at all: whoever may push can change every branch, and every change set can merge at once.
        </p>
      )}
      <ol className="mt-6 grid gap-3">
        {rules.rules.map((rule, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rules have no other name that stays
          <li key={i} className="rounded-md border border-rule bg-paper px-5 py-4">
            <div className="flex items-baseline justify-between gap-4">
              <h2 className="font-mono text-[15px] font-semibold">{rule.branches || "…"}</h2>
              {mayEdit && (
                <span className="flex gap-4">
                  <button type="button" className="quiet-button" onClick={() => setEditing(editing === i ? null : i)}>
                    {editing === i ? "fold" : "change"}
                  </button>
                  <button
                    type="button"
                    className="quiet-button text-clay"
                    onClick={() => {
                      setEditing(null);
                      change({ ...rules, rules: rules.rules.filter((_, at) => at !== i) });
                    }}
                  >
                    remove
                  </button>
                </span>
              )}
            </div>
            {editing === i ? (
              <RuleFields rule={rule} people={people} groups={rules.groups} onChange={(next) => withRule(i, next)} />
            ) : (
              <ul className="mt-1 columns-2 gap-8 max-[800px]:columns-1">
                {sentences(rule).map((words) => (
                  <li key={words} className="break-inside-avoid py-0.5">
                    {words}
                  </li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ol>
      {mayEdit && (
        <button
          type="button"
          className="button mt-3"
          onClick={() => {
            change({ ...rules, rules: [...rules.rules, makeRule("")] });
            setEditing(rules.rules.length);
          }}
        >
          Add a rule …
        </button>
      )}
      <TagRights tags={rules.tags} onChange={mayEdit ? (tags) => change({ ...rules, tags }) : null} />
      <Groups groups={rules.groups ?? {}} onChange={mayEdit ? (groups) => change({ ...rules, groups }) : null} />
      {mayEdit && draft.begun && draft.value.version !== saved.version && (
        <p role="alert" className="mt-6 rounded-md border border-l-4 border-rule border-l-clay bg-paper px-4 py-3">
          You began these changes on edition {draft.value.version ?? "none"}, and edition {saved.version ?? "none"}{" "}
          counts now. “undo all” shows that; the changes have to be made on it.
        </p>
      )}
      {mayEdit && (changed || trial) && (
        <section aria-label="Save" data-deeds className="sticky bottom-0 mt-6 border-t border-rule bg-page py-3">
          <div className="flex items-end gap-3">
            <label className="grid flex-1 gap-1 text-[13px] text-soft">
              What this is for; it stays in the history
              <input
                className="field"
                name="note"
                value={note}
                maxLength={500}
                onChange={(event) => setNote(event.target.value)}
              />
            </label>
            <button type="button" className="quiet-button" disabled={busy} onClick={undoAll}>
              undo all
            </button>
            <button type="button" className="button" disabled={busy} onClick={() => void tryThem()}>
              Try them
            </button>
            <button
              type="button"
              data-deed
              className="button-main"
              disabled={busy || !changed}
              onClick={() => void save()}
            >
              Save
            </button>
          </div>
        </section>
      )}
      {said && (
        <p
          role={said.wrong ? "alert" : "status"}
          className={`mt-3 whitespace-pre-line ${said.wrong ? "text-clay" : "text-teal"}`}
        >
          {said.words}
        </p>
      )}
      {trial && <Trial trial={trial} repository={repository} />}
      <History history={history} onTake={mayEdit ? (edition) => change(edition.rules) : null} />
    </main>
  );
}

function readFile(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** People who are named together, as @name, in rules. */
function Groups({
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

function sentences(rule: Rule): string[] {
  try {
    return ruleWords(rule);
  } catch {
    // A file that was just taken in may lack what the server fills in.
    return ["As it is in the file."];
  }
}

function History({ history, onTake }: { history: EditionView[]; onTake: ((edition: EditionView) => void) | null }) {
  return (
    <section aria-label="History" className="mt-10">
      <h2 className="font-serif text-xl font-semibold">History</h2>
      <ol className="mt-2 divide-y divide-rule">
        {history.map((edition, i) => (
          <li key={edition.version} className="py-2">
            <details>
              <summary className="cursor-pointer">
                <span className="font-semibold">Edition {edition.version}</span>{" "}
                <span className="text-soft">
                  {edition.by ? `by ${edition.by}` : "by the installation"}
                  {edition.at > 0 && (
                    <>
                      , <When at={edition.at} />
                    </>
                  )}
                </span>{" "}
                {edition.note}
                {i === 0 && <span className="text-teal"> counts now</span>}
              </summary>
              <ul className="mt-1 grid gap-1 pl-5">
                {edition.rules.rules.map((rule) => (
                  <li key={rule.branches}>
                    <code className="font-mono text-[12.5px]">{rule.branches}</code> {sentences(rule).join(" ")}
                  </li>
                ))}
              </ul>
              {onTake && i > 0 && (
                <button type="button" className="quiet-button ml-4" onClick={() => onTake(edition)}>
                  go back to this one
                </button>
              )}
            </details>
          </li>
        ))}
      </ol>
    </section>
  );
}
