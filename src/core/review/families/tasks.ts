import * as v from "valibot";
import { done, type Outcome, refuse } from "../../plain/outcome";
import { atLeast } from "../roles";
import { id } from "../shapes";
import type { ChangeSet, Task } from "../state";
import { commandKind, eventKind, type Facts, type NewOf } from "./family";

/** Things to do before merging that belong to no line; they come with a review. */

export const taskEvents = {
  "task-done": eventKind(v.object({ task: v.string() }), {
    evolve: (change, { by, at, data }) => withTask(change, data.task, { by, at }),
    says: ({ by }, { name }) => `a task ticked off by ${name(by)}`,
  }),
  "task-opened": eventKind(v.object({ task: v.string() }), {
    evolve: (change, { data }) => withTask(change, data.task, null),
    says: ({ by }, { name }) => `a task opened again by ${name(by)}`,
  }),
};

type New = NewOf<typeof taskEvents>;

export const taskRequests = [v.object({ kind: v.picklist(["finish-task", "reopen-task"]), task: id })] as const;

export const taskCommands = {
  "finish-task": commandKind<{ kind: "finish-task"; task: string }, New>([], (change, { task }, facts) =>
    decideTask(change, task, true, facts),
  ),
  "reopen-task": commandKind<{ kind: "reopen-task"; task: string }, New>([], (change, { task }, facts) =>
    decideTask(change, task, false, facts),
  ),
};

function decideTask(change: ChangeSet, id: string, finish: boolean, { actor }: Pick<Facts, "actor">): Outcome<New> {
  const task = change.tasks.find((candidate) => candidate.id === id);
  if (!task) return refuse("missing", "There is no such task in this change set.");
  if (![task.by, task.person, change.author].includes(actor.id) && !atLeast(actor.role, "keeper"))
    return refuse("forbidden", "Only who set a task, who is to do it, the author and keepers can tick it off.");
  if ((task.done !== null) === finish)
    return refuse("conflict", finish ? "This task is done already." : "This task is open already.");
  return done({ kind: finish ? "task-done" : "task-opened", data: { task: id } });
}

function withTask(change: ChangeSet, id: string, done: Task["done"]): ChangeSet {
  return { ...change, tasks: change.tasks.map((task) => (task.id === id ? { ...task, done } : task)) };
}
