import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { mayTake } from "@/core/review/families/revisions";
import { notOpen } from "@/core/review/guards";
import { type ChangeSet, newest } from "@/core/review/state";
import type { YardstickView } from "@/core/views/keeping-view";
import { againstYardstick } from "@/core/yardstick/yardstick";
import { mergeBase } from "@/git/history/commits";
import { writeCommit } from "@/git/merge";
import { branchCommit, namedCommits } from "@/git/repository";
import { type TreeEntry, treeWith } from "@/git/write";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { filesBetween } from "../reading/files-between";
import { recordAndMove } from "../refs/both";
import { factsFor } from "../rules/facts";
import { guarded } from "../rules/rules";
import { keptAlive } from "./revisions/revising";
import { tellRevision } from "./revisions/tell-revision";

/** How each file of a change set stands to a branch or tag. Without a name only which there are. */
export async function yardstickOf(
  app: AppContext,
  folder: string,
  change: ChangeSet,
  name: string | null,
): Promise<Outcome<YardstickView>> {
  const known = await namedCommits(folder);
  const others = known.filter((one) => one.name !== change.source).map(({ name: one, kind }) => ({ name: one, kind }));
  if (name === null) return done({ names: others, name: null, files: [] });
  const commit = known.find((one) => one.name === name)?.commit;
  if (!commit) return refuse("missing", `There is no branch or tag “${name}”.`);
  const { base, head } = newest(change);
  const parted = await mergeBase(folder, commit, head);
  const [mine, apart, since] = await Promise.all([
    filesBetween(app, folder, { from: base, to: head }),
    filesBetween(app, folder, { from: commit, to: head }),
    parted ? filesBetween(app, folder, { from: parted, to: commit }) : [],
  ]);
  return done({ names: others, name, files: againstYardstick(mine, apart, since) });
}

/**
 * Takes files out of a change set that a yardstick has already in the same state: one commit on the source branch in which they are as
 * they were in the base, and the next revision.
 */
export async function dropSame(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  name: string,
): Promise<Outcome<ChangeSet>> {
  const view = await yardstickOf(app, folder, change, name);
  if (!view.ok) return view;
  const current = newest(change);
  const drop = new Set(view.value.files.flatMap(({ path, state }) => (state === "same" ? [path] : [])));
  if (drop.size === 0) return refuse("conflict", `No file of r${current.number} is the same in ${name}.`);
  const mine = await filesBetween(app, folder, { from: current.base, to: current.head });
  if (drop.size === mine.length)
    return refuse("conflict", `All of r${current.number} is in ${name} already: withdraw the change set instead.`);
  // Whether someone may write to the source branch here is the same question as for taking suggestions.
  const { actor } = await factsFor(app, app.db, change, person);
  const wrong = notOpen(change) ?? mayTake(change, actor) ?? (await guarded(app.db, change.repository, change.source));
  if (wrong) return wrong;
  if ((await branchCommit(folder, change.source)) !== current.head)
    return refuse(
      "conflict",
      `${change.source} has moved since r${current.number}. Record what is there as the next revision first.`,
    );
  const entries = new Map<string, TreeEntry>(
    mine
      .filter(({ path }) => drop.has(path))
      .map(({ path, oldId, oldMode }) => [path, oldId === null ? null : { id: oldId, mode: oldMode }]),
  );
  const head = await writeCommit(folder, {
    tree: await treeWith(folder, current.head, entries),
    parents: [current.head],
    message: `Leave out what is in ${name} already\n`,
    by: { name: person.fullName, email: person.email, at: app.now() },
  });
  const target = (await branchCommit(folder, change.target)) ?? current.target;
  const base = (await mergeBase(folder, target, head)) ?? current.base;
  const revision = { head, target, base };
  return keptAlive(app, change, folder, revision, async () => {
    const told = await tellRevision(app, folder, current, revision);
    return recordAndMove(app, {
      change,
      person,
      branch: change.source,
      from: current.head,
      to: head,
      way: "left-out",
      words: "left out what is there already",
      command: { kind: "revise", revision, number: current.number + 1, ...told },
    });
  });
}
