import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { bytesOfPath } from "./paths";
import { git, gitText } from "./run";

/** What is to stand at a path: a blob that is there, new contents (in the mode the file has where none is given), or nothing. */
export type TreeEntry = { id: string; mode: number } | { bytes: Uint8Array; mode?: number } | null;

const NO_OBJECT = "0".repeat(40);

/** Writes the tree of a commit with other things at some of its paths, and gives its id. */
export async function treeWith(
  folder: string,
  commit: string,
  entries: ReadonlyMap<string, TreeEntry>,
): Promise<string> {
  const place = await mkdtemp(join(tmpdir(), "lens-index-"));
  const env = { GIT_INDEX_FILE: join(place, "index") };
  try {
    await git(folder, ["read-tree", commit], { env });
    // What goes is taken out first: a file may come where a folder was.
    const gone: Buffer[] = [];
    const come: Buffer[] = [];
    const line = (what: string, path: string) => [Buffer.from(`${what}\t`), bytesOfPath(path), Buffer.from("\0")];
    for (const [path, entry] of entries) {
      if (entry === null) gone.push(...line(`0 ${NO_OBJECT}`, path));
      else if ("id" in entry) come.push(...line(`${entry.mode.toString(8)} ${entry.id}`, path));
      else {
        const blob = await gitText(folder, ["hash-object", "-w", "--stdin"], { input: entry.bytes });
        const mode = entry.mode?.toString(8) ?? (await modeOf(folder, env, path));
        come.push(...line(`${mode} ${blob}`, path));
      }
    }
    const input = Buffer.concat([...gone, ...come]);
    if (entries.size > 0) await git(folder, ["update-index", "-z", "--index-info"], { env, input });
    return await gitText(folder, ["write-tree"], { env });
  } finally {
    await rm(place, { recursive: true, force: true });
  }
}

async function modeOf(folder: string, env: Record<string, string>, path: string): Promise<string> {
  // All names are looked through: one that is no UTF-8 cannot be given as an argument.
  const { stdout } = await git(folder, ["ls-files", "-s", "-z"], { env });
  const wanted = Buffer.concat([Buffer.from("\t"), bytesOfPath(path), Buffer.from("\0")]);
  const at = stdout.indexOf(wanted);
  if (at < 0) return "100644";
  const start = stdout.lastIndexOf(0, at) + 1;
  return stdout.toString("latin1", start, at).split(" ")[0] || "100644";
}
