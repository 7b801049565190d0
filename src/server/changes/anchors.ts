import { type Anchor, LONGEST_ANCHOR } from "@/core/anchor/anchor";
import { isBinary, readText } from "@/core/diff/text";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { ChangeSet } from "@/core/review/state";
import { bare, type Suggestion } from "@/core/suggest/suggestion";
import type { NewAnchor } from "@/core/views/api";
import { isAncestor } from "@/git/history/commits";
import { blobAt, isNamedState, objectSize, readObject, resolveCommit } from "@/git/repository";
import type { AppContext } from "../app/context";
import { filesBetween } from "../reading/files-between";

/** What can be remarked on in a file has to be small enough to be read at once. */
const LARGEST_FILE = 64 * 1024 * 1024;

/** Checks that what a remark is to stand on exists in that revision, and takes the text of its lines down. */
export async function fixAnchor(
  app: AppContext,
  change: ChangeSet,
  folder: string,
  asked: NewAnchor,
): Promise<Outcome<Anchor>> {
  const revision = change.revisions.find(({ number }) => number === asked.revision);
  if (!revision) return refuse("missing", `There is no revision r${asked.revision}.`);
  if (asked.kind === "change") return done(asked);
  if (asked.kind === "commit") {
    const within =
      (await resolveCommit(folder, asked.commit)) === asked.commit &&
      (await isAncestor(folder, asked.commit, revision.head)) &&
      !(await isAncestor(folder, asked.commit, revision.base));
    return within ? done(asked) : refuse("missing", `That commit is not one of r${asked.revision}.`);
  }
  const commits = asked.side === "new" ? [revision.head] : [revision.base, ...change.revisions.map(({ head }) => head)];
  const changed = await filesBetween(app, folder, { from: revision.base, to: revision.head });
  const side = asked.side === "new" ? "newId" : "oldId";
  let found = changed.some((file) => file.path === asked.path && file[side] === asked.blob);
  for (const commit of commits) found ||= (await blobAt(folder, commit, asked.path)) === asked.blob;
  // What is read against a yardstick has an old side that is none of ours, and can be remarked on as well.
  if (!found && asked.side === "old") found = await isNamedState(folder, asked.path, asked.blob);
  if (!found)
    return refuse(
      "missing",
      `${asked.path} is not in r${asked.revision} in that state. A remark stands on a revision: go back to all of it (A) to write one.`,
    );
  if (asked.kind === "file") return done(asked);
  if (asked.end < asked.start || asked.end - asked.start >= LONGEST_ANCHOR) {
    return refuse(
      "invalid",
      `A remark stands on one line or on several that follow each other, ${LONGEST_ANCHOR} at most.`,
    );
  }
  const lines = await linesOf(folder, asked.blob);
  if (!lines) return refuse("invalid", `${asked.path} is not text: a remark cannot stand on one of its lines.`);
  if (asked.end > lines.length)
    return refuse("invalid", `${asked.path} has ${lines.length} lines there; line ${asked.end} is outside of it.`);
  const { part } = asked;
  if (part && (asked.start !== asked.end || part.to <= part.from || part.to > lines[asked.start - 1].length))
    return refuse("invalid", "A remark on a part of a line stands within that one line.");
  const text = lines.slice(asked.start - 1, asked.end).map((line) => line.slice(0, 2_000));
  return done({ ...asked, text });
}

/** Takes down what the lines say that suggestions would change. */
export async function fixSuggestions(
  folder: string,
  anchor: Anchor,
  asked: readonly Omit<Suggestion, "was">[],
): Promise<Outcome<Suggestion[]>> {
  if (asked.length === 0) return done([]);
  if (anchor.kind !== "lines" || anchor.side !== "new")
    return refuse("invalid", "A suggestion stands on lines of the new text.");
  const lines = await linesOf(folder, anchor.blob);
  if (!lines) return refuse("invalid", `${anchor.path} is not text.`);
  const fixed: Suggestion[] = [];
  for (const suggestion of asked) {
    const { start, end } = suggestion;
    if (end < start || end > lines.length || end - start >= LONGEST_ANCHOR)
      return refuse("invalid", `A suggestion stands on lines that ${anchor.path} does not have.`);
    fixed.push({ ...suggestion, was: lines.slice(start - 1, end).map(bare) });
  }
  return done(fixed);
}

/** The lines of a blob; null when it is no text, or too large. */
async function linesOf(folder: string, blob: string): Promise<string[] | null> {
  if (((await objectSize(folder, blob)) ?? 0) > LARGEST_FILE) return null;
  const bytes = await readObject(folder, blob);
  return isBinary(bytes) ? null : readText(bytes).lines;
}
