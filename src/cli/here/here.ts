import { createServer, type Socket } from "node:net";
import { type Command, Option } from "commander";
import { need } from "../stop";
import { cloneHere } from "./clone-here";
import { writeDoor } from "./door";

interface HereOptions {
  target?: string;
  port?: string;
  tied?: boolean;
  asIs?: boolean;
}

/** The workspace on a clone alone: no server, no account, no copy. */
export function addHereCommand(program: Command): void {
  program
    .command("here")
    .description("read and review in this clone alone, in the browser: without a server, an account or a copy")
    .option("--target <branch>", "what the branch that is checked out is read against; main or master unless said")
    .option("--port <number>", "where to serve, on this machine alone; any that is free unless said")
    .addOption(new Option("--tied", "end when standard input does: for programs that begin it").hideHelp())
    .addOption(new Option("--as-is", "show the reviews that are there, and begin none").hideHelp())
    .addHelpText("after", "\nWhat it keeps is in the clone’s .git/lens/here. Ctrl C ends it.")
    .action(here);
}

async function here({ target, port, tied, asIs }: HereOptions): Promise<void> {
  if (tied) {
    process.stdin.resume().once("close", () => process.kill(process.pid, "SIGTERM"));
    // That alone does not keep it alive.
    (process.stdin as Partial<Socket>).unref?.();
  }
  const clone = await cloneHere(target);
  process.env.LENS_DATA = clone.data;
  process.env.PORT = port ?? String(await freePort());
  process.env.LENS_LOG = "error";
  const [{ serve }, backstage] = await Promise.all([import("../serve"), import("../keeping/backstage")]);
  await serve({
    dev: false,
    alone: true,
    begin: async (app) => {
      const { source, into, repository } = clone;
      const adopted = need(await backstage.adoptClone(app, repository, clone.owner));
      const next =
        asIs || source === "" || source === into
          ? `/r/${repository.name}`
          : await backstage.readingOwn(app, adopted.person, adopted.repository, source, into);
      const word = await backstage.wordFor(app, adopted.person.id);
      const session = await backstage.doorFor(app, adopted.person.id);
      return (address) => {
        writeDoor(clone.data, { address, session, repository: repository.name, process: process.pid });
        return `${address}/here?next=${encodeURIComponent(next)}#${word}\nCtrl C ends it.`;
      };
    },
  });
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
