"use client";
import { DropdownMenu } from "radix-ui";
import { type ReactNode, useState } from "react";
import { listed } from "@/core/plain/words";
import { REACTIONS, type Reaction } from "@/core/review/shapes";
import type { Comment, Thread } from "@/core/review/state";
import { useDraft } from "../../kept/use-draft";
import { SafeMarkdown } from "../../parts/markdown";
import { When } from "../../parts/when";
import { WritingField } from "../../words/writing-field";
import { byName, nameIn, useChangeSet, useTell } from "../state/context";

const SIGNS: Record<Reaction, string> = { agreed: "✓", thanks: "♥", unsure: "?" };

/** One comment of a thread: what it says, what it said before, and what others said to it in one word. */
export function CommentView({
  thread,
  comment,
  children,
}: {
  thread: Thread;
  comment: Comment;
  /** What stands below its words. */
  children?: ReactNode;
}) {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const draft = useDraft<string | null>(`comment ${comment.id}`, null);
  const editing = draft.value;
  const setEditing = (next: string | null) => (next === null ? draft.forget() : draft.change(next));
  const [past, setPast] = useState(false);
  const [sure, setSure] = useState(false);
  const mine = comment.by === view.me.id;
  const run = async (request: Parameters<typeof command>[0]) => {
    const refusal = await command(request);
    if (refusal) tell(refusal);
    return refusal === null;
  };
  const ids = { thread: thread.id, comment: comment.id };
  const given = REACTIONS.filter((reaction) => (comment.reactions[reaction] ?? []).length > 0);
  const react = (reaction: Reaction) => {
    const people = comment.reactions[reaction] ?? [];
    const on = people.includes(view.me.id);
    return (
      <button
        key={reaction}
        type="button"
        aria-pressed={on}
        title={
          people.length > 0
            ? `${listed(people.map((id) => nameIn(view, id)))}: ${reaction}`
            : `Say “${reaction}” in one word`
        }
        className={`rounded border px-1.5 ${on ? "border-brass bg-brass-wash text-ink" : "border-rule text-soft hover:border-brass"}`}
        onClick={() => void run({ kind: "react", ...ids, reaction, on: !on })}
      >
        {SIGNS[reaction]} {reaction}
        {people.length > 0 && ` ${people.length}`}
      </button>
    );
  };
  if (comment.erased) {
    return (
      <li className="mt-1.5 text-[13px] text-faint">
        {nameIn(view, comment.by)} wrote something here; {byName(view, comment.erased.by)} deleted it,{" "}
        <When at={comment.erased.at} />.
      </li>
    );
  }
  return (
    <li className="mt-1.5">
      <p className="flex flex-wrap items-baseline gap-x-2 text-[13px]">
        <span className="font-semibold">{nameIn(view, comment.by)}</span>
        {view.people[comment.by]?.machine && (
          <span className="rounded bg-well px-1 text-[11px] text-soft">machine</span>
        )}
        <span className="text-faint">
          <When at={comment.at} />
        </span>
        {view.keptHere?.includes(comment.id) && (
          <span className="text-brass" title="lens sync, or the button on the page of the repository, hands it over.">
            here alone
          </span>
        )}
        {comment.edits.length > 0 && (
          <button
            type="button"
            className="quiet-button text-[12px]"
            aria-expanded={past}
            onClick={() => setPast((now) => !now)}
          >
            edited
          </button>
        )}
        <span className="flex-1" />
        {editing === null && (
          <CommentMenu
            react={(reaction) =>
              void run({
                kind: "react",
                ...ids,
                reaction,
                on: !(comment.reactions[reaction] ?? []).includes(view.me.id),
              })
            }
            edit={mine ? () => setEditing(comment.body) : null}
            erase={mine || view.me.role === "keeper" ? () => setSure(true) : null}
          />
        )}
      </p>
      {sure && (
        <p className="flex gap-3 text-[13px]">
          Delete it? A trace stays.
          <button type="button" className="quiet-button text-clay" onClick={() => void run({ kind: "erase", ...ids })}>
            yes, delete
          </button>
          <button type="button" className="quiet-button" onClick={() => setSure(false)}>
            no
          </button>
        </p>
      )}
      {past && (
        <ol className="my-1 border-l-2 border-rule pl-2 text-[13px] text-soft" aria-label="What it said before">
          {comment.edits.map(({ body, until }) => (
            <li key={until}>
              Until <When at={until} />: <SafeMarkdown text={body} />
            </li>
          ))}
        </ol>
      )}
      {editing === null ? (
        <SafeMarkdown text={comment.body} />
      ) : (
        <form
          onSubmit={async (event) => {
            event.preventDefault();
            if (await run({ kind: "edit", ...ids, body: editing })) setEditing(null);
          }}
        >
          <WritingField
            label="The comment, in Markdown"
            repository={view.repository}
            focus
            text={editing}
            onText={setEditing}
            onKeyDown={(event) => {
              if (event.key === "Escape") {
                event.stopPropagation();
                setEditing(null);
              }
            }}
          />
          <p className="mt-1 flex gap-3">
            <button type="submit" className="button" disabled={editing.trim() === ""}>
              Keep
            </button>
            <button type="button" className="quiet-button" onClick={() => setEditing(null)}>
              cancel
            </button>
          </p>
        </form>
      )}
      {children}
      {given.length > 0 && <p className="mt-0.5 flex flex-wrap gap-1.5 text-[12px]">{given.map(react)}</p>}
    </li>
  );
}

/** What can be done with a comment, out of the way until it is wanted. */
function CommentMenu({
  react,
  edit,
  erase,
}: {
  react: (reaction: Reaction) => void;
  edit: (() => void) | null;
  erase: (() => void) | null;
}) {
  const item = "cursor-pointer rounded px-3 py-0.5 text-[14px] outline-none data-[highlighted]:bg-brass-wash";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="What to do with this comment"
        className="rounded px-1 leading-4 text-soft hover:text-brass"
      >
        …
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={2} className="sheet z-40 p-1">
          {REACTIONS.map((reaction) => (
            <DropdownMenu.Item key={reaction} className={item} onSelect={() => react(reaction)}>
              {SIGNS[reaction]} {reaction}
            </DropdownMenu.Item>
          ))}
          {(edit || erase) && <DropdownMenu.Separator className="my-1 h-px bg-rule" />}
          {edit && (
            <DropdownMenu.Item className={item} onSelect={edit}>
              edit
            </DropdownMenu.Item>
          )}
          {erase && (
            <DropdownMenu.Item className={item} onSelect={erase}>
              delete …
            </DropdownMenu.Item>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
