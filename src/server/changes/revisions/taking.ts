import { createHash } from "node:crypto";
import { pathOf } from "@/core/anchor/anchor";
import { positionAt } from "@/core/anchor/anchor-history";
import { followLines } from "@/core/anchor/follow";
import { readText, writeText } from "@/core/diff/text";
import type { FileView } from "@/core/diff/view";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { Taken } from "@/core/review/shapes";
import { type ChangeSet, type MadeSuggestion, newest, type Thread } from "@/core/review/state";
import { applyEdits, creditIn, type Edit, type Suggestion, suggestionMessage } from "@/core/suggest/suggestion";
import { mergeBase } from "@/git/history/commits";
import { writeCommit } from "@/git/merge";
import { blobAt, branchCommit, readObject } from "@/git/repository";
import { type TreeEntry, treeWith } from "@/git/write";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import { signersOf } from "../../access/people";
import type { Person } from "../../access/person";
import type { AppContext } from "../../app/context";
import { historiesOf } from "../../following/anchor-histories";
import { fileView } from "../../reading/reading";
import { recordAndMove } from "../../refs/both";
import { guarded } from "../../rules/rules";
import { decided } from "../deciding";
import { keptAlive } from "./revising";

/** Remembers, or forgets, that someone means to take a suggestion with their next commit. */
export async function pick(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  { thread, suggestion, picked }: Taken & { picked: boolean },
): Promise<Outcome<null>> {
  const key = { change_set: change.id, person: person.id, suggestion };
  if (!picked) {
    await app.db
      .deleteFrom("picks")
      .where("change_set", "=", key.change_set)
      .where("person", "=", key.person)
      .where("suggestion", "=", suggestion)
      .execute();
    return done(null);
  }
  const { head, target, base } = newest(change);
  // Whether it may be taken at all is the same question as when it is.
  const early = await decided(app, app.db, { change, git: null }, person, {
    kind: "take",
    revision: { head, target, base },
    taken: [{ thread, suggestion }],
  });
  if (!early.ok) return early;
  const made = change.threads.find(({ id }) => id === thread)?.suggestions.find(({ id }) => id === suggestion);
  const picking = { thread, content: made ? contentOf(made) : "", at: app.now() };
  await app.db
    .insertInto("picks")
    .values({ ...key, ...picking })
    .onConflict((conflict) => conflict.columns(["change_set", "person", "suggestion"]).doUpdateSet(picking))
    .execute();
  return done(null);
}

/** What names a suggestion as it stands. */
function contentOf({ start, end, was, lines }: Suggestion): string {
  return createHash("sha256")
    .update(JSON.stringify([start, end, was, lines]))
    .digest("hex");
}

interface Picked {
  thread: Thread;
  suggestion: MadeSuggestion;
}

/**
 * What a person has picked and what is still there to be taken, in the order of the threads. What was edited since, by whichever way, is not what they
 * picked, and neither is another suggestion that goes by the same id.
 */
export async function pickedOf(db: Queries, person: Person, change: ChangeSet): Promise<Picked[]> {
  const rows = await madeOnce(db, `picks of ${person.id} on ${change.id}`, () =>
    db
      .selectFrom("picks")
      .select(["thread", "suggestion", "content"])
      .where("change_set", "=", change.id)
      .where("person", "=", person.id)
      .execute(),
  );
  const picks = new Map(rows.map(({ suggestion, ...pick }) => [suggestion, pick]));
  return change.threads.flatMap((thread) =>
    thread.suggestions
      .filter((suggestion) => {
        const pick = picks.get(suggestion.id);
        return !suggestion.taken && pick?.thread === thread.id && pick.content === contentOf(suggestion);
      })
      .map((suggestion) => ({ thread, suggestion })),
  );
}

/** The message for a commit of what is picked: what each remark says, in a line. */
export function messageOfPicked(picked: readonly Picked[]): string {
  return suggestionMessage(
    picked.map(({ thread }) => {
      const [first] = thread.comments[0].body.trim().split("\n");
      return first ? first.slice(0, 72) : nameOf(thread);
    }),
  );
}

/**
 * Carries everything picked out in one commit on the newest revision, which becomes the next one. The commit is made first and hangs
 * nowhere; then it is recorded and the branch is moved: see {@link recordAndMove}.
 */
export async function takePicked(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  message: string,
): Promise<Outcome<ChangeSet>> {
  const picked = await pickedOf(app.db, person, change);
  const taken = picked.map(({ thread, suggestion }) => ({ thread: thread.id, suggestion: suggestion.id }));
  const current = newest(change);
  const early = await decided(app, app.db, { change, git: null }, person, { kind: "take", revision: current, taken });
  if (!early.ok) return early;
  const guard = await guarded(app.db, change.repository, change.source);
  if (guard) return guard;
  if (message.trim() === "") return refuse("invalid", "The message of the commit is empty.");
  if ((await branchCommit(folder, change.source)) !== current.head) {
    return refuse(
      "conflict",
      `${change.source} has moved since r${current.number}. Record what is there as the next revision first.`,
    );
  }
  const blobs = await carriedOut(app, change, folder, picked);
  if (!blobs.ok) return blobs;
  const tree = await treeWith(folder, current.head, blobs.value);
  const helpers = await authorsOf(app.db, picked, person);
  const head = await writeCommit(folder, {
    tree,
    parents: [current.head],
    message: creditIn(message, helpers),
    by: { name: person.fullName, email: person.email, at: app.now() },
  });
  const target = (await branchCommit(folder, change.target)) ?? current.target;
  const base = (await mergeBase(folder, target, head)) ?? current.base;
  const revision = { head, target, base };
  return keptAlive(app, change, folder, revision, () =>
    recordAndMove(app, {
      change,
      person,
      branch: change.source,
      from: current.head,
      to: head,
      way: "suggestions",
      words: "suggestions taken",
      command: { kind: "take", revision, taken },
      also: async (tx) => {
        await tx.deleteFrom("picks").where("change_set", "=", change.id).where("person", "=", person.id).execute();
      },
    }),
  );
}

/** The new contents of every file that suggestions touch; refuses when one of them cannot be carried out. */
async function carriedOut(
  app: AppContext,
  change: ChangeSet,
  folder: string,
  picked: readonly Picked[],
): Promise<Outcome<Map<string, TreeEntry>>> {
  const edits = new Map<string, { blob: string; edits: Edit[] }>();
  for (const { thread, suggestion } of picked) {
    const at = await nowAt(app, change, folder, thread, suggestion);
    if (!at.ok) return at;
    const { path, blob, start, end } = at.value;
    const entry = edits.get(path) ?? { blob, edits: [] };
    const { was, lines } = suggestion;
    entry.edits.push({ start, end, was, lines, name: `the suggestion on ${path}, line ${start}` });
    edits.set(path, entry);
  }
  const contents = new Map<string, TreeEntry>();
  for (const [path, { blob, edits: here }] of edits) {
    const text = readText(await readObject(folder, blob));
    const lines = applyEdits(text.lines, here);
    if (!lines.ok) return lines;
    const bytes = writeText({ ...text, lines: lines.value });
    if (!bytes)
      return refuse("conflict", `${path} is written in an encoding that lacks a character of a suggestion for it.`);
    contents.set(path, { bytes });
  }
  return done(contents);
}

/** Where the lines of a suggestion stand in the newest revision; refuses when they do not stand there any more. */
async function nowAt(
  app: AppContext,
  change: ChangeSet,
  folder: string,
  { id, anchor }: Thread,
  { start, end }: MadeSuggestion,
): Promise<Outcome<{ path: string; blob: string; start: number; end: number }>> {
  if (anchor.kind !== "lines") return refuse("invalid", "A suggestion stands on lines.");
  const { head, number } = newest(change);
  const histories = await historiesOf(app, folder, change);
  const position = positionAt(histories[id]?.positions ?? [], number);
  const path = position?.path ?? anchor.path;
  const blob = await blobAt(folder, head, path);
  if (!blob) return refuse("conflict", `${anchor.path} is not in r${number} any more.`);
  const away = position?.status === "moved" ? position.start - anchor.start : null;
  if (away !== null && start >= anchor.start && end <= anchor.end)
    return done({ path, blob, start: start + away, end: end + away });
  const view: FileView = JSON.parse(await fileView(app, folder, anchor.blob, blob));
  const place = followLines(start, end, view.comparison.hunks);
  if (place.status === "gone" || place.status === "edited") {
    return refuse(
      "conflict",
      `The lines of the suggestion on ${anchor.path}, line ${start}, have changed since r${anchor.revision}. Put it back, or ask for a new one.`,
    );
  }
  return done({ path, blob, start: place.start, end: place.end });
}

/** Who made the suggestions, but for the person who takes them. */
async function authorsOf(db: Queries, picked: readonly Picked[], taker: Person) {
  const ids = [...new Set(picked.map(({ thread }) => thread.comments[0].by))].filter((id) => id !== taker.id);
  return (await signersOf(db, ids)).map(({ name, email }) => ({ name, email }));
}

function nameOf({ anchor }: Thread): string {
  return pathOf(anchor) ?? "the change set";
}
