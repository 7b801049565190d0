"use client";
import { useState } from "react";
import { type EditionState, makeRule, type Rule, type Rules } from "@/core/rules/rule";
import type { RuleTrial } from "@/core/views/keeping-view";
import { addressOf, ask, reasonFrom } from "../asking/ask";
import { useDraft } from "../kept/use-draft";
import { Editions, type EditionView, sentences } from "./editions";
import { RuleFields } from "./rule-fields";
import { RuleGroups } from "./rule-groups";
import { SecondKeeper } from "./second-keeper";
import { TagRights } from "./tag-rights";
import { Trial } from "./trial";
import { WaitingEdition } from "./waiting-edition";

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
  /** What became of the edition that waited. */
  const [settled, setSettled] = useState("");
  const parts = { repo: repository };
  const waiting = history.find(({ state }) => state === "waits");
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
      if (made.state === "agreed") setSaved({ rules: made.rules, version: made.version });
      draft.forget();
      setHistory([{ ...made, by: "you", second: null, mine: true }, ...history]);
      setNote("");
      setTrial(null);
      setEditing(null);
      const counts = made.state === "agreed" ? "It counts from now on." : "It counts when a second keeper has agreed.";
      setSaid({ words: [`Saved. ${counts}`, ...made.notes].join("\n"), wrong: false });
    });
  const settle = ({ version }: EditionView, { state, rules: agreed }: { state: EditionState; rules: Rules }) => {
    if (state === "agreed") setSaved({ rules: agreed, version });
    setHistory(history.map((one) => (one.version === version ? { ...one, state, second: "you" } : one)));
    setSettled(
      state === "agreed"
        ? `Agreed. Edition ${version} counts from now on.`
        : `Dropped. Edition ${version} stays in the history, to begin from again.`,
    );
  };
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
      <div className="mt-8 flex items-start justify-between gap-6 max-sm:flex-col max-sm:gap-3">
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
      {waiting ? (
        <WaitingEdition
          edition={waiting}
          counting={saved.rules}
          {...{ repository, mayEdit }}
          onSettled={(made) => settle(waiting, made)}
        />
      ) : (
        settled !== "" && (
          <p ref={focusOnce} tabIndex={-1} role="status" className="mt-6 text-teal">
            {settled}
          </p>
        )
      )}
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
      <RuleGroups groups={rules.groups ?? {}} onChange={mayEdit ? (groups) => change({ ...rules, groups }) : null} />
      <SecondKeeper
        seconded={rules.seconded}
        onChange={mayEdit ? (seconded) => change({ ...rules, seconded }) : null}
      />
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
      <Editions history={history} onTake={mayEdit ? (edition) => change(edition.rules) : null} />
    </main>
  );
}

/** The same at each rendering, so that the focus is taken when it comes, and never again. */
function focusOnce(words: HTMLElement | null): void {
  words?.focus();
}

function readFile(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
