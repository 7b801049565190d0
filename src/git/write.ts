import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { git, gitText } from "./run";

/** Writes the tree of a commit with other contents for some of its files, and gives its id. Files keep their modes. */
export async function treeWith(
  folder: string,
  commit: string,
  contents: ReadonlyMap<string, Uint8Array>,
): Promise<string> {
  const place = await mkdtemp(join(tmpdir(), "lens-index-"));
  const env = { GIT_INDEX_FILE: join(place, "index") };
  try {
    await git(folder, ["read-tree", commit], { env });
    let input = "";
    for (const [path, bytes] of contents) {
      const entry = await gitText(folder, ["ls-files", "-s", "-z", "--", `:(literal,top)${path}`], { env });
      const mode = entry.split(" ")[0] || "100644";
      const blob = await gitText(folder, ["hash-object", "-w", "--stdin"], { input: bytes });
      input += `${mode} ${blob}\t${path}\0`;
    }
    await git(folder, ["update-index", "-z", "--index-info"], { env, input });
    return await gitText(folder, ["write-tree"], { env });
  } finally {
    await rm(place, { recursive: true, force: true });
  }
}
