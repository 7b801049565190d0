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
  most: number;
  signal?: AbortSignal;
  /** Also where the words are parts of others, and as `capitals` says, written small or large. */
  within?: { capitals: boolean };
}

/**
 * The lines of a commit's files in which one of some words stands, as a whole word unless `within` is given, binary files left out, up to
 * `most`. git searches all files at once; it is ended when there is enough, or when `signal` says that nobody waits.
 */
export async function linesWith(
  folder: string,
  commit: string,
  words: readonly string[],
  { most, signal, within }: How,
): Promise<Hits> {
  if (!isObjectId(commit)) throw new Error("That is not an object id.");
  const sought = words.filter((word) => word !== "" && !/[\n\r\0]/.test(word));
  if (sought.length === 0) return { hits: [], more: false };
  const how = within ? (within.capitals ? [] : ["-i"]) : ["-w"];
  const args = ["--git-dir", folder, "grep", "-z", "-n", "--column", ...how, "-F", "-I", "-f", "-", commit, "--"];
  const child = spawn("git", args, { env: gitEnvironment(), stdio: ["pipe", "pipe", "pipe"], signal });
  child.stdin.on("error", () => undefined);
  child.stdin.end(`${sought.join("\n")}\n`);
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
  const hits: Hit[] = [];
  let more = false;
  for await (const record of records(child.stdout, commit.length + 1)) {
    more = hits.length >= most;
    // Leaving the loop lets go of what git still writes.
    if (more) break;
    hits.push(record);
  }
  if (more) {
    child.kill("SIGKILL");
    return { hits, more };
  }
  const code = await ended;
  if (code !== 0 && code !== 1) throw new Error(`Searching ended with ${code}. ${complaint}`.trim());
  return { hits, more };
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
