import { createServer } from "node:net";
import { basename, dirname, join } from "node:path";
import type { Command } from "commander";
import { gitHere } from "@/git/clone";
import { gitFolderOf } from "@/git/intake";
import { need, Stop } from "./stop";

interface HereOptions {
  target?: string;
  port?: string;
}

/** The workspace on a clone alone: no server, no account, no copy. */
export function addHereCommand(program: Command): void {
  program
    .command("here")
    .description("read and review in this clone alone, in the browser: without a server, an account or a copy")
    .option("--target <branch>", "what the branch that is checked out is read against; main or master unless said")
    .option("--port <number>", "where to serve, on this machine alone; any that is free unless said")
    .addHelpText("after", "\nWhat it keeps is in the clone’s .git/lens/here. Ctrl C ends it.")
    .action(here);
}

async function here({ target, port }: HereOptions): Promise<void> {
  const top = process.env.INIT_CWD ?? process.cwd();
  const folder = await gitFolderOf(top);
  if (!folder) throw new Stop("Run this at the top of a clone.");
  const say = async (...args: string[]) => (await gitHere(top, args)).out.trim();
  const email = await say("config", "user.email");
  const fullName = await say("config", "user.name");
  if (!email || !fullName) throw new Stop("git does not know who you are: set user.name and user.email.");
  const branches = (await say("for-each-ref", "--format=%(refname:strip=2)", "refs/heads")).split("\n").filter(Boolean);
  const source = await say("symbolic-ref", "--short", "-q", "HEAD");
  const known = (await say("symbolic-ref", "--short", "-q", "refs/remotes/origin/HEAD")).replace(/^origin\//, "");
  const into = target ?? [known, "main", "master"].find((name) => branches.includes(name));
  if (!into || !branches.includes(into))
    throw new Stop(
      target || known
        ? `There is no branch ${target ?? known} in this clone: git branch ${target ?? known} origin/${target ?? known}`
        : "What is to be read against is not known: say --target.",
    );
  process.env.LENS_DATA = join(folder, "lens", "here");
  process.env.PORT = port ?? String(await freePort());
  process.env.LENS_LOG = "error";
  const [{ serve }, backstage] = await Promise.all([import("./serve"), import("./backstage")]);
  await serve({
    dev: false,
    alone: true,
    begin: async (app) => {
      const repository = nameOf(basename(folder) === ".git" ? dirname(folder) : folder);
      const name = nameOf(email.split("@")[0]).slice(0, 40);
      const clone = { folder, name: repository, defaultBranch: into };
      const adopted = need(await backstage.adoptClone(app, clone, { name, fullName, email }));
      const next =
        source === "" || source === into
          ? `/r/${repository}`
          : await backstage.readingOwn(app, adopted.person, adopted.repository, source, into);
      const word = await backstage.wordFor(app, adopted.person.id);
      return (address) => `${address}/here?next=${encodeURIComponent(next)}#${word}\nCtrl C ends it.`;
    },
  });
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

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once("error", reject);
    probe.listen(0, "127.0.0.1", () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === "object" && address ? address.port : 0));
    });
  });
}
