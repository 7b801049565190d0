import { type FileChange, isObjectId } from "@/core/diff/tree";
import { pathOf } from "../paths";
import { readChange, splitAtNul } from "../raw";
import { git } from "../run";
import { timeOf, Words } from "./commit-words";
import type { Commit } from "./commits";
import { rawLog } from "./raw-log";

/** A commit that touched a file, without its body, and the file as it was and is; `oldPath` where the commit renamed it. */
export interface FileStep extends Commit {
  file: FileChange & { oldPath: string | null };
}

/**
 * The commits that touched a file until one, through its renames, the newest first, `most` at the most. git's own way of following a file loses
 * what came by a merge, so each name is looked for by itself, and where it begins it is asked what it was before.
 */
export async function commitsOfFile(
  folder: string,
  commit: string,
  path: string,
  { most, signal }: { most: number; signal?: AbortSignal },
): Promise<FileStep[]> {
  const steps: FileStep[] = [];
  let [at, name]: [string, string | null] = [commit, path];
  while (isObjectId(at) && name && steps.length < most) {
    const found = await commitsOfName(folder, at, name, most - steps.length, signal);
    steps.push(...found);
    const first: FileStep | undefined = found.at(-1);
    if (!first || first.file.oldId !== null) break;
    const before = await nameBefore(folder, first.id, first.file.path, signal);
    if (before) Object.assign(first.file, before);
    [at, name] = before ? [`${first.id}^1`, before.oldPath] : ["", null];
    // What came before is looked for from the parent on.
    if (name) at = (await git(folder, ["rev-parse", "--verify", at], { signal })).stdout.toString().trim();
  }
  return steps;
}

/** A path is a path, whatever signs it begins with. */
const LITERAL = { GIT_LITERAL_PATHSPECS: "1" };

/** The commits that touched a file under one name. */
async function commitsOfName(
  folder: string,
  commit: string,
  path: string,
  most: number,
  signal?: AbortSignal,
): Promise<FileStep[]> {
  const format = "--format=%x01%H%x00%an%x00%at%x00%s";
  const args = [`--max-count=${most}`, format, commit, "--", path];
  const words = new Words();
  return (await rawLog(folder, args, 4, { answers: [128], signal, env: LITERAL })).flatMap(({ fields, files }) => {
    const [id, author, time, subject] = fields;
    // A folder of that name is none of its files.
    const own = files.filter((change) => change.path === path);
    const told = { id, at: timeOf(time), ...words.of(author, subject, "") };
    return own.map((change): FileStep => ({ ...told, file: { ...change, oldPath: null } }));
  });
}

/** What a file was called before the commit that brought it under its name, with what it held; null where it was made there. */
async function nameBefore(
  folder: string,
  commit: string,
  path: string,
  signal?: AbortSignal,
): Promise<Pick<FileStep["file"], "oldPath" | "oldId" | "oldMode"> | null> {
  const args = ["diff-tree", "-r", "-z", "--raw", "-M", "--no-abbrev", "--no-commit-id", "--diff-filter=R", commit];
  const fields = splitAtNul((await git(folder, args, { signal })).stdout);
  for (let at = 0; at + 2 < fields.length; at += 3) {
    const change = readChange(fields[at].toString("latin1"), fields[at + 1]);
    if (pathOf(fields[at + 2]).path !== path) continue;
    return { oldPath: change.path, oldId: change.oldId, oldMode: change.oldMode };
  }
  return null;
}
