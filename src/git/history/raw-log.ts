import type { FileChange } from "@/core/diff/tree";
import { inFigures } from "@/core/plain/words";
import { Fields } from "../fields";
import { readChange } from "../raw";
import { GitEnded, type GitOptions, git } from "../run";

/** A commit as a log tells it, and the files that it names with it. */
export interface LoggedCommit {
  fields: string[];
  files: FileChange[];
}

/** Bytes of one field that are held: paths have fewer, and of words nobody is told more. */
const LONGEST = 100_000;
/** So many files may be named in all. */
const MOST = 500_000;

/** What `git log -z --raw` says: each commit by its `width` fields, of which the first begins with U+0001 in the format and is given without it. */
export async function rawLog(
  folder: string,
  args: readonly string[],
  width: number,
  options: Pick<GitOptions, "signal" | "answers" | "env"> = {},
): Promise<LoggedCommit[]> {
  const commits: LoggedCommit[] = [];
  let files = 0;
  let meta: string | null = null;
  const fields = new Fields(LONGEST, (field) => {
    const last = commits.at(-1);
    if (last && last.fields.length < width) last.fields.push(field.toString("utf8"));
    else if (meta !== null) {
      last?.files.push(readChange(meta, field));
      meta = null;
      if (++files > MOST) throw new GitEnded(`These commits name more than ${inFigures(MOST)} files.`);
    } else {
      const words = field.toString("utf8").trimStart();
      if (words.startsWith("\x01")) commits.push({ fields: [words.slice(1)], files: [] });
      else if (words.startsWith(":")) meta = words;
    }
  });
  await git(folder, ["log", "-z", "--raw", "--no-renames", "--no-abbrev", ...args], {
    ...options,
    out: (bytes) => fields.add(bytes),
  });
  return commits;
}
