import { isObjectId } from "@/core/diff/tree";
import { git } from "../run";
import { nameOf, subjectOf, timeOf } from "./commit-words";
import type { Commit } from "./commits";

/** The commit by which a line came to be as it is; its body is not told. */
export interface LineOrigin {
  commit: Commit;
  /** The file and the line, 1-based, as they are in that commit. */
  path: string;
  line: number;
  /** Where the file was before it; null for one that came with the commit. */
  previous: { commit: string; path: string } | null;
}

/** Which commit a line, 1-based, of a file has come by, through renames of the file; null where there is no such line. */
export async function originOfLine(
  folder: string,
  commit: string,
  path: string,
  line: number,
  signal?: AbortSignal,
): Promise<LineOrigin | null> {
  if (!isObjectId(commit) || path === "") return null;
  const args = ["blame", "--porcelain", `-L${line},${line}`, commit, "--", path];
  const { code, stdout } = await git(folder, args, { answers: [128], signal });
  if (code !== 0) return null;
  const [head, ...rest] = stdout.toString("utf8").split("\n");
  const [id, at] = head.split(" ");
  const told = new Map<string, string>();
  for (const row of rest) {
    if (row.startsWith("\t")) break;
    const space = row.indexOf(" ");
    told.set(space < 0 ? row : row.slice(0, space), space < 0 ? "" : row.slice(space + 1));
  }
  const previous = /^([0-9a-f]+) (.+)$/s.exec(told.get("previous") ?? "");
  return {
    commit: {
      id,
      at: timeOf(told.get("author-time") ?? ""),
      author: nameOf(told.get("author") ?? ""),
      subject: subjectOf(told.get("summary") ?? ""),
      body: "",
    },
    path: unquoted(told.get("filename") ?? path),
    line: Number(at),
    previous: previous && { commit: previous[1], path: unquoted(previous[2]) },
  };
}

/** Lines, 1-based and counted, that came by one commit. */
export interface BlamedLines {
  start: number;
  count: number;
  commit: Commit;
}

/** By which commits the lines of a whole file came; none where there is no such file. Lines that follow each other are told together. */
export async function originsOfFile(
  folder: string,
  commit: string,
  path: string,
  signal?: AbortSignal,
): Promise<BlamedLines[]> {
  if (!isObjectId(commit) || path === "") return [];
  const args = ["blame", "--incremental", commit, "--", path];
  const { code, stdout } = await git(folder, args, { answers: [128], signal });
  if (code !== 0) return [];
  const commits = new Map<string, BlamedLines["commit"]>();
  const runs: BlamedLines[] = [];
  for (const row of stdout.toString("utf8").split("\n")) {
    const [, id, start, count] = /^([0-9a-f]{40}|[0-9a-f]{64}) \d+ (\d+) (\d+)$/.exec(row) ?? [];
    if (id) {
      const known = commits.get(id) ?? { id, at: 0, author: "", subject: "", body: "" };
      commits.set(id, known);
      runs.push({ start: Number(start), count: Number(count), commit: known });
      continue;
    }
    const known = runs.at(-1)?.commit;
    const space = row.indexOf(" ");
    if (!known || space < 0) continue;
    const value = row.slice(space + 1);
    const key = row.slice(0, space);
    if (key === "author") known.author = nameOf(value);
    else if (key === "author-time") known.at = timeOf(value);
    else if (key === "summary") known.subject = subjectOf(value);
  }
  return runs.sort((a, b) => a.start - b.start);
}

/** git writes names with odd signs in quotes. */
function unquoted(name: string): string {
  if (!name.startsWith('"')) return name;
  const bytes: number[] = [];
  for (const { 0: part, 1: octal } of name.slice(1, -1).matchAll(/\\([0-7]{3})|\\.|[^\\]+/gs)) {
    if (octal) bytes.push(Number.parseInt(octal, 8));
    else if (part.startsWith("\\")) bytes.push(...Buffer.from(ESCAPED[part[1]] ?? part[1]));
    else bytes.push(...Buffer.from(part));
  }
  return Buffer.from(bytes).toString("utf8");
}

const ESCAPED: Record<string, string> = { n: "\n", t: "\t", r: "\r", a: "\x07", b: "\b", f: "\f", v: "\v" };
