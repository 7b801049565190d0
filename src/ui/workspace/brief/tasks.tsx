"use client";
import { goesOn } from "@/core/review/state";
import type { UnsentTask } from "@/core/views/api";
import { atEnd } from "../../focus/at-end";
import { SafeMarkdown } from "../../parts/markdown";
import { When } from "../../parts/when";
import { useKeptNote } from "../margin/use-kept-note";
import { byName, nameIn, useChangeSet, useTell } from "../state/context";

/** What has to be done before merging and belongs to no line, with the tasks that are not sent yet. */
export function Tasks() {
  const { view, command, startTask } = useChangeSet();
  const tell = useTell();
  const unsent = view.unsent.flatMap((note) => (note.kind === "task" ? [note] : []));
  const mayAdd = goesOn(view) && view.me.remark.may;
  if (view.tasks.length + unsent.length === 0 && !mayAdd) return null;
  const tick = async (task: string, done: boolean) => {
    const refusal = await command({ kind: done ? "reopen-task" : "finish-task", task });
    if (refusal) tell(refusal);
  };
  return (
    <section aria-label="Tasks" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Tasks</h2>
      <ul className="mt-1 grid gap-2">
        {view.tasks.map((task) => (
          <li key={task.id}>
            <label className="flex gap-2">
              <input
                type="checkbox"
                checked={task.done !== null}
                onChange={() => void tick(task.id, task.done !== null)}
                className="mt-1 h-4 w-4 flex-none accent-[var(--brass)]"
              />
              <span className="min-w-0">
                <SafeMarkdown text={task.body} />
                <span className="block text-[13px] text-soft">
                  {task.person ? `for ${byName(view, task.person)}` : "for whoever does it"}, set by{" "}
                  {byName(view, task.by)}
                  {task.done && (
                    <>
                      {" "}
                      · done by {byName(view, task.done.by)}, <When at={task.done.at} />
                    </>
                  )}
                </span>
              </span>
            </label>
          </li>
        ))}
        {unsent.map((note) => (
          <li key={note.id}>
            <TaskNote note={note} />
          </li>
        ))}
      </ul>
      {view.tasks.length + unsent.length === 0 && <p className="text-soft">Nothing beyond the remarks.</p>}
      {mayAdd && (
        <button type="button" className="button mt-2" onClick={startTask}>
          Add a task …
        </button>
      )}
    </section>
  );
}

/** A task that nobody else sees yet. It is kept as it is written. */
export function TaskNote({ note }: { note: UnsentTask }) {
  const { view, freshNote, leaveNote } = useChangeSet();
  const kept = useKeptNote(note, { body: note.body, assignee: note.assignee });
  const people = [...new Set([view.author, ...view.reviewers])];
  return (
    <div
      className="rounded-md border border-l-4 border-dashed border-brass border-l-brass px-3 py-2"
      data-note={note.id}
      data-deeds
    >
      <p className="flex justify-between text-[12.5px] text-soft">
        Task <span className="text-brass">unsent</span>
      </p>
      <input
        ref={freshNote === note.id ? atEnd : undefined}
        aria-label="What is to be done"
        className="field mt-1"
        placeholder="What is to be done before this merges?"
        value={kept.value.body}
        onChange={(event) => kept.change({ body: event.target.value })}
        // Left once, it asks for nothing any more: drawn again, here or on a sheet, it would take the focus, and the next key.
        onBlur={() => leaveNote(note.id)}
      />
      <p className="mt-1 flex items-center gap-3">
        <select
          aria-label="Who is to do it"
          className="field w-auto min-w-0"
          value={kept.value.assignee ?? ""}
          onChange={(event) => kept.change({ assignee: event.target.value || null })}
        >
          <option value="">whoever does it</option>
          {people.map((id) => (
            <option key={id} value={id}>
              {nameIn(view, id)}
            </option>
          ))}
        </select>
        <button type="button" className="quiet-button" onClick={kept.drop}>
          delete
        </button>
        <span className="flex-1 text-right text-[12px] text-faint" role="status">
          {kept.problem || kept.state}
        </span>
      </p>
    </div>
  );
}
