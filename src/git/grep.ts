import { spawn } from "node:child_process";
import { isObjectId } from "@/core/diff/tree";
import { pathOf } from "./paths";
import { gitEnvironment } from "./run";

/** A line in which a word stands. Line 1-based; `at` is where the first one begins, in bytes, 0-based. */
export interface Hit {
  path: string;
  line: number;
  at: number;
  text: string;
}

export interface Hits {
  hits: Hit[];
  /** There is more than was asked for. */
  more: boolean;
}

/** Longer lines are cut: nobody reads them, and one may have megabytes. */
const LONGEST = 2_000;

interface How {
  signal?: AbortSignal;
  /** Whether only as whole words, and only as large and small as they are written: both, unless it is said otherwise. */
  whole?: boolean;
  capitals?: boolean;
  /** All lines of all texts, whatever the words are. */
  every?: boolean;
}

/** The lines of a commit's files in which one of some words stands, binary files left out, up to `most`. */
export async function linesWith(
  folder: string,
  commit: string,
  words: readonly string[],
  { most, ...how }: How & { most: number },
): Promise<Hits> {
  const hits: Hit[] = [];
  const more = await eachLineWith(folder, commit, words, how, (hit) => hits.length < most && hits.push(hit) > 0);
  return { hits, more };
}

/**
 * Goes through the lines of a commit's files in which one of some words stands, binary files left out, until `each` wants no more: tells whether that
 * was so. git searches all files at once; it is ended then, and when `signal` says that nobody waits.
 */
export async function eachLineWith(
  folder: string,
  commit: string,
  words: readonly string[],
  { signal, whole = true, capitals = true, every = false }: How,
  each: (hit: Hit) => boolean,
): Promise<boolean> {
  if (!isObjectId(commit)) throw new Error("That is not an object id.");
  const sought = every ? [""] : words.filter((word) => word !== "" && !/[\n\r\0]/.test(word));
  if (sought.length === 0) return false;
  const how = [...(whole && !every ? ["-w"] : []), ...(capitals ? [] : ["-i"])];
  const as = sought.length > 1 ? "-E" : "-F";
  const args = ["--git-dir", folder, "grep", "-z", "-n", "--column", ...how, as, "-I", "-f", "-", commit, "--"];
  const child = spawn("git", args, { env: gitEnvironment(), stdio: ["pipe", "pipe", "pipe"], signal });
  child.stdin.on("error", () => undefined);
  child.stdin.end(`${sought.length > 1 ? oneOf(sought) : sought[0]}\n`);
  let complaint = "";
  child.stderr.on("data", (chunk) => {
    complaint = (complaint + chunk).slice(-2_000);
  });
  const ended = new Promise<number | null>((resolve, reject) => {
    child.on("error", reject);
    child.on("exit", resolve);
  });
  // Whoever reads hears of it below.
  ended.catch(() => undefined);
  for await (const record of records(child.stdout, commit.length + 1)) {
    if (each(record)) continue;
    // Leaving the loop lets go of what git still writes.
    child.kill("SIGKILL");
    return true;
  }
  const code = await ended;
  if (code !== 0 && code !== 1) throw new Error(`Searching ended with ${code}. ${complaint}`.trim());
  return false;
}

/**
 * One extended pattern for several words. Given them as patterns of their own, git looks for each to the end of the file from every line on: ten words in
 * 50,000 lines took it a minute.
 */
function oneOf(words: readonly string[]): string {
  return words.map((word) => word.replace(/[\\^$.*+?()[\]{}|]/g, "\\$&")).join("|");
}

/** Reads `COMMIT:PATH NUL LINE NUL COLUMN NUL TEXT LF`, again and again. What is beyond the length of a line is thrown away as it comes. */
async function* records(stream: AsyncIterable<Buffer>, prefix: number): AsyncGenerator<Hit> {
  let head: Buffer[] = [];
  let fields: Buffer[] = [];
  let held = 0;
  for await (const chunk of stream) {
    for (let from = 0; from < chunk.length; ) {
      const end = chunk.indexOf(fields.length < 3 ? 0 : 10, from);
      const part = chunk.subarray(from, end < 0 ? chunk.length : end);
      if (held < LONGEST * 4) head.push(part);
      held += part.length;
      if (end < 0) break;
      fields.push(Buffer.concat(head));
      [head, held] = [[], 0];
      from = end + 1;
      if (fields.length < 4) continue;
      const [name, line, column, text] = fields;
      fields = [];
      yield {
        path: pathOf(name.subarray(prefix)).path,
        line: Number(line),
        at: Number(column) - 1,
        text: text.toString("utf8").slice(0, LONGEST),
      };
    }
  }
}
