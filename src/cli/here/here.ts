import type { Socket } from "node:net";
import { type Command, Option } from "commander";
import { commitOfWork } from "@/git/work";
import type { Person } from "@/server/access/person";
import type { Repository } from "@/server/access/repositories";
import type { AppContext } from "@/server/app/context";
import { freePort } from "@/server/app/free-port";
import { backstage, need, say } from "../stop";
import { type CloneHere, cloneHere } from "./clone-here";
import { writeDoor } from "./door";

interface HereOptions {
  target?: string;
  port?: string;
  tied?: boolean;
  asIs?: boolean;
  uncommitted?: boolean;
}

/** The workspace on a clone alone: no server, no account, no copy. */
export function addHereCommand(program: Command): void {
  program
    .command("here")
    .description("read and review in this clone alone, in the browser: without a server, an account or a copy")
    .option("--target <branch>", "what the branch that is checked out is read against; main or master unless said")
    .option(
      "--uncommitted",
      "read what is not committed yet, too, before anybody else sees it; it is handed over to nobody",
    )
    .option("--port <number>", "where to serve, on this machine alone; any that is free unless said")
    .addOption(new Option("--tied", "end when standard input does: for programs that begin it").hideHelp())
    .addOption(new Option("--as-is", "show the reviews that are there, and begin none").hideHelp())
    .addHelpText("after", "\nWhat it keeps is in the clone’s .git/lens/here. Ctrl C ends it.")
    .action(here);
}

async function here({ target, port, tied, asIs, uncommitted }: HereOptions): Promise<void> {
  if (tied) {
    process.stdin.resume().once("close", () => process.kill(process.pid, "SIGTERM"));
    // That alone does not keep it alive.
    (process.stdin as Partial<Socket>).unref?.();
  }
  const clone = await cloneHere(target);
  process.env.LENS_DATA = clone.data;
  process.env.PORT = port ?? String(await freePort());
  process.env.LENS_LOG = "error";
  const [{ serve }, { adoptClone, doorFor, wordFor }] = await Promise.all([import("../serve"), backstage()]);
  await serve({
    dev: false,
    alone: true,
    anyPort: port === undefined,
    begin: async (app) => {
      const { repository } = clone;
      const adopted = need(await adoptClone(app, repository, clone.owner));
      const next = await firstPage(app, clone, adopted, { asIs, uncommitted });
      const word = await wordFor(app, adopted.person.id);
      const session = await doorFor(app, adopted.person.id);
      return (address) => {
        writeDoor(clone.data, { address, session, repository: repository.name, process: process.pid });
        return `${address}/here?next=${encodeURIComponent(next)}#${word}\nCtrl C ends it.`;
      };
    },
  });
}

/** The page that is shown first: what is not committed yet, the branch that is checked out, or all that there is. */
async function firstPage(
  app: AppContext,
  { top, owner, source, into }: CloneHere,
  { person, repository }: { person: Person; repository: Repository },
  { asIs, uncommitted }: Pick<HereOptions, "asIs" | "uncommitted">,
): Promise<string> {
  const { readingOwn, readingWork } = await backstage();
  const head = uncommitted ? await commitOfWork(top, owner) : null;
  if (head) return need(await readingWork(app, person, repository, { branch: source, target: into, head }));
  if (uncommitted) say("Nothing is there that is not committed.");
  if (asIs || source === "" || source === into) return `/r/${repository.name}`;
  return readingOwn(app, person, repository, source, into);
}
