import { isBinary, readText } from "@/core/diff/text";
import { linkedItems } from "@/core/house/work/trailers";
import { conflictsBetween } from "@/core/merge/conflicts";
import { mergeMessage } from "@/core/merge/message";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { counted, shortened } from "@/core/plain/words";
import { notNewest } from "@/core/review/families/merging";
import { type ChangeSet, newest } from "@/core/review/state";
import type { MergeKind } from "@/core/rules/rule";
import { bare } from "@/core/suggest/suggestion";
import type { ConflictView, MergePreview } from "@/core/views/keeping-view";
import { commitsBetween, countCommits, mergeBase } from "@/git/history/commits";
import { signatureOf } from "@/git/merge";
import { blobAt, branchCommit, objectSize, readObject } from "@/git/repository";
import { signersOf } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { conflictsWith, seriesOf } from "../rules/facts";
import { ruleFor } from "../rules/rules";
import { authorOfAll, makeResult } from "./merge-result";

/** So many conflicting files are shown with their places, in files of at most this size. */
const MOST_FILES = 30;
const LARGEST = 2 * 1024 * 1024;
/** So long may they be, in lines; and so many places of one are shown, with so many lines of each side, cut where they are very long. */
const MOST_LINES = 50_000;
const MOST_PLACES = 100;
const MOST_SHOWN = 200;
const LONGEST = 1_000;

/**
 * What merging in one way would make: the commits, the message, and where it conflicts. Nothing is moved. Refuses, as merging does, where
 * another revision is meant than the newest.
 */
export async function previewMerge(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  { how, revision = newest(change).number }: { how: MergeKind; revision?: number },
): Promise<Outcome<MergePreview>> {
  const outdated = notNewest(change, revision);
  if (outdated) return outdated;
  const from = await branchCommit(folder, change.target);
  if (!from) return refuse("missing", `There is no branch “${change.target}” any more.`);
  const { head } = newest(change);
  const message = await messageForMerge(app, change, folder, how);
  const by = { name: person.fullName, email: person.email, at: app.now() };
  const [result, behind, paths] = await Promise.all([
    makeResult(folder, change, from, how, message || "preview", by),
    countCommits(folder, head, from),
    conflictsWith(app, folder, from, head),
  ]);
  const made = result.ok ? await commitsBetween(folder, from, result.value.commit, 500) : [];
  // Along the first parents: what a merge commit brings in stands beside it, not in the line.
  const own = new Set(result.ok ? result.value.made : []);
  return done({
    how,
    message,
    behind,
    why: result.ok ? null : result.refusal.reason,
    commits: made.map((commit) => ({ ...commit, made: own.has(commit.id) && commit.id !== head && how !== "forward" })),
    conflicts: await conflictsIn(folder, from, head, paths),
  });
}

/** The message that merging in one way gets unless someone edits it. */
export async function messageForMerge(
  app: AppContext,
  change: ChangeSet,
  folder: string,
  how: MergeKind,
): Promise<string> {
  const ids = [...new Set(change.reviews.map(({ by }) => by))];
  const people = await signersOf(app.db, ids);
  const items = linkedItems(change.links, "", (await seriesOf(app, folder, change)).named);
  const { keep } = (await ruleFor(app.db, change.repository, change.target)).approvals;
  if (how !== "squash") return mergeMessage(change, how, people, [], items, keep);
  const { base, head } = newest(change);
  const commits = await commitsBetween(folder, base, head, 100);
  const authors = await Promise.all(commits.map(async ({ id }) => (await signatureOf(folder, id)).author));
  // The newest commit's author is that of the one commit; the others are named in its message.
  const others = new Map(authors.map(({ name, email }) => [email, { name, email }]));
  others.delete((await authorOfAll(folder, change)).email);
  return mergeMessage(change, how, people, [...others.values()], items, keep);
}

async function conflictsIn(
  folder: string,
  ours: string,
  theirs: string,
  paths: readonly string[],
): Promise<ConflictView[]> {
  const base = await mergeBase(folder, ours, theirs);
  const views: ConflictView[] = [];
  for (const path of paths.slice(0, MOST_FILES)) {
    const [before, target, source] = await Promise.all(
      [base, ours, theirs].map((commit) => linesAt(folder, commit, path)),
    );
    if (before === LONG || target === LONG || source === LONG) {
      views.push({ path, places: [], why: "It is too long for its places to be looked for here." });
      continue;
    }
    if (!target || !source) {
      const gone = target === null && source === null ? "both" : target === null ? "the target" : "the source";
      views.push({
        path,
        places: [],
        why: before ? `One changed it, and ${gone} has it no more or not as text.` : "It cannot be shown as text.",
      });
      continue;
    }
    const all = conflictsBetween(before ?? [], target, source);
    const places = all.slice(0, MOST_PLACES).map((place) => ({
      line: place.ours[0] + 1,
      base: shownLines(before ?? [], place.base),
      target: shownLines(target, place.ours),
      source: shownLines(source, place.theirs),
    }));
    const more = all.length - places.length;
    views.push({
      path,
      places,
      why:
        places.length === 0
          ? "Its name, mode or place was changed by both."
          : more > 0
            ? `${counted(all.length, "place")}, of which the first ${MOST_PLACES} are shown`
            : null,
    });
  }
  return views;
}

function shownLines(lines: readonly string[], [start, end]: readonly [number, number]): string[] {
  const shown = lines.slice(start, Math.min(end, start + MOST_SHOWN)).map((line) => shortened(bare(line), LONGEST));
  return end - start > MOST_SHOWN ? [...shown, `… and ${counted(end - start - MOST_SHOWN, "more line")}`] : shown;
}

/** Of a file that is too large. */
const LONG = Symbol("long");

/** The lines of a file in a commit; null where it is not there or is no text. */
async function linesAt(folder: string, commit: string | null, path: string): Promise<string[] | null | typeof LONG> {
  const blob = commit && (await blobAt(folder, commit, path));
  if (!blob) return null;
  if (((await objectSize(folder, blob)) ?? 0) > LARGEST) return LONG;
  const bytes = await readObject(folder, blob);
  const lines = isBinary(bytes) ? null : readText(bytes).lines;
  return lines && lines.length > MOST_LINES ? LONG : lines;
}
