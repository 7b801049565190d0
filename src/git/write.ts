import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { git, gitText } from "./run";

/** What is to stand at a path: a blob that is there, new contents (in the mode the file has where none is given), or nothing. */
export type Entry = { id: string; mode: number } | { bytes: Uint8Array; mode?: number } | null;

const NO_OBJECT = "0".repeat(40);

/** Writes the tree of a commit with other things at some of its paths, and gives its id. */
export async function treeWith(folder: string, commit: string, entries: ReadonlyMap<string, Entry>): Promise<string> {
  const place = await mkdtemp(join(tmpdir(), "lens-index-"));
  const env = { GIT_INDEX_FILE: join(place, "index") };
  try {
    await git(folder, ["read-tree", commit], { env });
    // What goes is taken out first: a file may come where a folder was.
    let gone = "";
    let come = "";
    for (const [path, entry] of entries) {
      if (entry === null) gone += `0 ${NO_OBJECT}\t${path}\0`;
      else if ("id" in entry) come += `${entry.mode.toString(8)} ${entry.id}\t${path}\0`;
      else {
        const blob = await gitText(folder, ["hash-object", "-w", "--stdin"], { input: entry.bytes });
        come += `${entry.mode?.toString(8) ?? (await modeOf(folder, env, path))} ${blob}\t${path}\0`;
      }
    }
    if (entries.size > 0) await git(folder, ["update-index", "-z", "--index-info"], { env, input: gone + come });
    return await gitText(folder, ["write-tree"], { env });
  } finally {
    await rm(place, { recursive: true, force: true });
  }
}

async function modeOf(folder: string, env: Record<string, string>, path: string): Promise<string> {
  const entry = await gitText(folder, ["ls-files", "-s", "-z", "--", `:(literal,top)${path}`], { env });
  return entry.split(" ")[0] || "100644";
}
