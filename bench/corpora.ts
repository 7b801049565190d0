import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from "node:fs";
import { join } from "node:path";
import { resolveCommit } from "@/git/repository";
import { git } from "@/git/run";
import { run } from "./run";

/** Published packages whose versions make a history: many small files, few large ones, types, scripts, styles. */
const PACKAGES: Record<string, string[]> = {
  commander: ["11.1.0", "12.1.0", "14.0.0"],
  kysely: ["0.26.3", "0.27.4", "0.28.2"],
  valibot: ["0.30.0", "0.42.1", "1.1.0"],
  rxjs: ["6.6.7", "7.5.0", "7.8.1"],
  "date-fns": ["2.30.0", "3.6.0"],
  "lucide-static": ["0.300.0", "0.460.0"],
};

export interface Corpus {
  name: string;
  folder: string;
  from: string;
  to: string;
}

/** Makes the histories in a folder, each version a commit; those that are there already are left as they are. */
export async function corpora(cache: string, say: (words: string) => void): Promise<Corpus[]> {
  const result: Corpus[] = [];
  for (const [name, versions] of Object.entries(PACKAGES)) {
    const folder = join(cache, name);
    if (!existsSync(join(folder, ".git", "complete"))) {
      try {
        await make(folder, name, versions, say);
      } catch (error) {
        say(`${name} is left out: ${error instanceof Error ? error.message.split("\n")[0] : error}`);
        rmSync(folder, { recursive: true, force: true });
        continue;
      }
    }
    for (let i = 1; i < versions.length; i++) {
      const repository = join(folder, ".git");
      const [from, to] = await Promise.all(
        [versions[i - 1], versions[i]].map((version) => resolveCommit(repository, `v${version}`)),
      );
      if (from && to)
        result.push({ name: `${name} ${versions[i - 1]} to ${versions[i]}`, folder: repository, from, to });
    }
  }
  return result;
}

async function make(folder: string, name: string, versions: string[], say: (words: string) => void): Promise<void> {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const repository = join(folder, ".git");
  const here = (...args: string[]) => git(repository, ["--work-tree", folder, ...args], { env: AUTHOR });
  await git(null, ["init", "--quiet", "--end-of-options", folder]);
  for (const version of versions) {
    say(`Fetching ${name} ${version} …`);
    for (const entry of readdirSync(folder)) if (entry !== ".git") rmSync(join(folder, entry), { recursive: true });
    const packed = JSON.parse(
      await run("npm", [
        "pack",
        "--json",
        "--silent",
        "--ignore-scripts",
        "--pack-destination",
        folder,
        `${name}@${version}`,
      ]),
    );
    const file = join(
      folder,
      (Array.isArray(packed) ? packed[0] : Object.values(packed)[0]).filename.replace(/^@/, "").replace("/", "-"),
    );
    await run("tar", ["-xzf", file, "-C", folder]);
    rmSync(file);
    // Packages unpack into one folder, `package` as a rule.
    const [top] = readdirSync(folder).filter((entry) => entry !== ".git");
    renameSync(join(folder, top), join(folder, "package.unpacked"));
    await here("add", "--all", "--force");
    await here("commit", "--quiet", "-m", version);
    await here("tag", `v${version}`);
  }
  await here("repack", "-adq");
  mkdirSync(join(repository, "complete"));
}

const AUTHOR = {
  GIT_AUTHOR_NAME: "Bench",
  GIT_AUTHOR_EMAIL: "bench@example",
  GIT_COMMITTER_NAME: "Bench",
  GIT_COMMITTER_EMAIL: "bench@example",
};
