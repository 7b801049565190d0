import { basename, dirname, join } from "node:path";
import { gitHere } from "@/git/clone";
import { gitFolderOf } from "@/git/transport/intake";
import { Stop } from "../stop";

/** A clone as commands find it that work on it alone, and whose it is by git's own settings. */
export interface CloneHere {
  /** Where it is worked in. */
  top: string;
  /** The folder that holds the data of the installation in it. */
  data: string;
  repository: { folder: string; name: string; defaultBranch: string };
  owner: { name: string; fullName: string; email: string };
  /** The branch that is checked out; empty for none. */
  source: string;
  /** The branch that others are read against. */
  into: string;
}

/** The clone in whose top folder a command was called; `target` is the branch to read against, where one was named. */
export async function cloneHere(target?: string): Promise<CloneHere> {
  const top = process.env.INIT_CWD ?? process.cwd();
  const folder = await gitFolderOf(top);
  if (!folder) throw new Stop("Run this at the top of a clone.");
  return cloneAt(top, folder, target);
}

/** The clone whose top folder and `.git` these are. */
export async function cloneAt(top: string, folder: string, target?: string): Promise<CloneHere> {
  const say = async (...args: string[]) => (await gitHere(top, args)).out.trim();
  const [settings, refs] = await Promise.all([
    say("config", "--get-regexp", "^user\\.(name|email)$"),
    say("for-each-ref", "--format=%(refname) %(HEAD) %(symref)", "refs/heads", "refs/remotes/origin/HEAD"),
  ]);
  // The last of several counts.
  const own = new Map(
    [...settings.matchAll(/^user\.(name|email) ?(.*)$/gm)].map(([, key, value]) => [key, value.trim()]),
  );
  const [fullName, email] = [own.get("name"), own.get("email")];
  if (!email || !fullName) throw new Stop("git does not know who you are: set user.name and user.email.");
  const heads = [...refs.matchAll(/^refs\/heads\/(\S+) ?(\*?)/gm)];
  const branches = heads.map(([, name]) => name);
  const source = heads.find(([, , mark]) => mark === "*")?.[1] ?? "";
  const known = /^refs\/remotes\/origin\/HEAD +refs\/remotes\/origin\/(\S+)$/m.exec(refs)?.[1] ?? "";
  const into = target ?? [known, "main", "master"].find((name) => branches.includes(name));
  if (!into || !branches.includes(into))
    throw new Stop(
      target || known
        ? `There is no branch ${target ?? known} in this clone: git branch ${target ?? known} origin/${target ?? known}`
        : "What is to be read against is not known: say --target.",
    );
  const name = nameOf(basename(folder) === ".git" ? dirname(folder) : folder);
  return {
    top,
    data: join(folder, "lens", "here"),
    source,
    into,
    repository: { folder, name, defaultBranch: into },
    owner: { name: nameOf(email.split("@")[0]).slice(0, 40), fullName, email },
  };
}

/** As a name that addresses can have. */
function nameOf(words: string): string {
  const plain = basename(words)
    .toLowerCase()
    .replace(/\.git$/, "")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "");
  return plain || "clone";
}
