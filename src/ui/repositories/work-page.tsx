"use client";
import { useQueryClient } from "@tanstack/react-query";
import Link from "next/link";
import { type FormEvent, useState } from "react";
import type { AskOf } from "@/core/doors/endpoints/table";
import type { WorkItemView } from "@/core/views/keeping-view";
import { ask, reasonFrom } from "../asking/ask";
import { useAsked } from "../asking/use-asked";
import { useDraft } from "../kept/use-draft";
import { SafeMarkdown } from "../parts/markdown";
import { When } from "../parts/when";
import { PlainField } from "../words/plain-field";

/** The small tracker: reasons for changes, to be written, found and ended. */
export function WorkPage({
  repository,
  mayWrite,
  items: first,
  elsewhere,
  people,
}: {
  repository: string;
  mayWrite: boolean;
  /** Null where they could not be asked for. */
  items: WorkItemView[] | null;
  /** The machine of others that keeps them; null where they are kept here. */
  elsewhere: string | null;
  /** Whose an item can be. */
  people: { id: string; name: string }[];
}) {
  const client = useQueryClient();
  const parts = { repo: repository };
  const [words, setWords] = useState("");
  const draft = useDraft(`work ${repository}`, { title: "", body: "", assignee: "" });
  const { title, body, assignee } = draft.value;
  const change = (part: Partial<typeof draft.value>) => draft.change({ ...draft.value, ...part });
  const [problem, setProblem] = useState("");
  const { data: items, error } = useAsked({
    queryKey: ["work", repository, "find", words],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/work", { parts, query: { words }, signal }),
    initialData: words === "" ? (first ?? undefined) : undefined,
    placeholderData: (before) => before,
  });
  const send = async (request: AskOf<"POST /api/repos/{repo}/work">["body"]) => {
    try {
      await ask("POST /api/repos/{repo}/work", { parts, body: request });
      setProblem("");
      await client.invalidateQueries({ queryKey: ["work", repository] });
      return true;
    } catch (error) {
      setProblem(reasonFrom(error));
      return false;
    }
  };
  const write = async (event: FormEvent) => {
    event.preventDefault();
    if (!(await send({ kind: "new", title, body, assignee: assignee === "" ? null : assignee }))) return;
    draft.forget();
  };
  return (
    <main className="mx-auto max-w-4xl px-6 pb-16">
      <h1 className="mt-8 font-serif text-3xl font-semibold">Work items of {repository}</h1>
      <p className="text-soft">
        Reasons for changes. A change set is linked to them in its brief, or by a line such as <code>Closes: #101</code>{" "}
        or <code>Refs: #101</code> at the end of a commit message or a description.
        {elsewhere !== null && ` They are kept by the tracker at ${elsewhere}.`}
      </p>
      <input
        aria-label="Find work items"
        placeholder="Find by number or words"
        className="field mt-4 w-full"
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <ul className="mt-3 divide-y divide-rule">
        {(items ?? []).map(({ item, title: name, body: text, state, closedBy, changedAt, person, address }) => (
          <li key={item} className="flex items-start gap-4 py-2.5">
            <span className="w-14 flex-none text-soft">
              {address === null ? (
                `#${item}`
              ) : (
                <a className="underline" href={address} rel="noreferrer">
                  #{item}
                </a>
              )}
            </span>
            <div className="min-w-0 flex-1">
              <p className={state === "done" ? "text-soft line-through" : "font-semibold"}>{name}</p>
              {text.trim() !== "" && state === "open" && <SafeMarkdown text={text} />}
              <p className="text-[13px] text-soft">
                {state === "done" ? "done" : "open"}
                {person && ` · ${person}`}
                {closedBy !== null && (
                  <>
                    {" "}
                    by{" "}
                    <Link
                      prefetch={false}
                      className="text-slate underline underline-offset-2 hover:decoration-2"
                      href={`/r/${repository}/c/${closedBy}`}
                    >
                      change set {closedBy}
                    </Link>
                  </>
                )}{" "}
                · <When at={changedAt} />
              </p>
            </div>
            {mayWrite && (
              <button
                type="button"
                className="quiet-button flex-none"
                onClick={() => void send({ kind: "state", item, state: state === "done" ? "open" : "done" })}
              >
                {state === "done" ? "open again" : "done"}
              </button>
            )}
          </li>
        ))}
        {error && (
          <li role="alert" className="py-3 text-clay">
            {reasonFrom(error)}
          </li>
        )}
        {!error && items?.length === 0 && (
          <li className="py-3 text-soft">{words === "" ? "There is none yet." : "None fits these words."}</li>
        )}
      </ul>
      {mayWrite && (
        <form className="mt-8 grid gap-2" onSubmit={write}>
          <h2 className="font-serif text-xl font-semibold">A new one</h2>
          <label className="grid gap-0.5 text-soft">
            Title
            <input
              className="field text-ink"
              name="title"
              value={title}
              maxLength={200}
              onChange={(event) => change({ title: event.target.value })}
            />
          </label>
          <PlainField
            label="What it is about, in Markdown"
            name="body"
            className="min-h-24"
            text={body}
            onText={(next) => change({ body: next })}
          />
          {elsewhere === null && (
            <label className="grid w-72 gap-0.5 text-soft">
              Whose
              <select
                className="field text-ink"
                value={assignee}
                onChange={(event) => change({ assignee: event.target.value })}
              >
                <option value="">nobody’s yet</option>
                {people.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          )}
          {problem && (
            <p role="alert" className="text-clay">
              {problem}
            </p>
          )}
          <button type="submit" className="button-main justify-self-start" disabled={title.trim() === ""}>
            Write it
          </button>
        </form>
      )}
    </main>
  );
}
