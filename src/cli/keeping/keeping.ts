import { resolve } from "node:path";
import type { Command } from "commander";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { accountRequest } from "@/core/views/access-view";
import type { AppContext } from "@/server/app/context";
import { readSettings } from "@/server/app/settings";
import { backstage, need, Stop, say, withLens } from "../stop";

/** Commands for whoever keeps the installation running. */
export function addKeepingCommands(program: Command): void {
  program
    .command("backup <folder>")
    .description("write everything into an empty folder, as it is at one moment; the server may be running")
    .action((folder: string) =>
      withLens(async (app, server) => {
        const place = fromHere(folder);
        const { repositories } = need(await server.backUp(app, server.COMMAND_LINE, place, tellProgress));
        say(`${place} has the database and ${counted(repositories.length, "repository", "repositories")}.`);
      }),
    );
  program
    .command("restore <folder>")
    .description("put a backup into the data folder, which has to be empty, and check it")
    .action(async (folder: string) => {
      const { data } = need(readSettings(process.env));
      const { madeAt } = need(await (await backstage()).restore(fromHere(folder), data));
      say(`${data} is as it was at ${madeAt}.`);
      await withLens(tellTroubles);
    });
  program
    .command("check")
    .description("hold database, log, lists, refs and repositories against each other; changes nothing")
    .action(() => withLens(tellTroubles));
  program
    .command("audit")
    .description("who did what and from where, as JSON lines, the oldest first")
    .option("--after <id>", "go on after this entry")
    .action(({ after }: { after?: string }) =>
      withLens(async (app, server) => {
        let before = after;
        for (;;) {
          const entries = await server.auditEntries(app, { most: 1_000, before, oldestFirst: true });
          for (const { at, ...entry } of entries) say(JSON.stringify({ at: new Date(at).toISOString(), ...entry }));
          if (entries.length < 1_000) return;
          before = entries.at(-1)?.id;
        }
      }),
    );
}

/** Ways to change an account, under `lens person`. */
export function addAccountCommands(person: Command): void {
  const carry = (name: string, request: unknown, words: string) =>
    withLens(async (app, server) => {
      need(await server.changeAccount(app, server.COMMAND_LINE, name, need(server.checked(accountRequest, request))));
      say(words);
    });
  person
    .command("disable <name>")
    .description("they cannot sign in any more; sessions and tokens end, what they said stays")
    .action((name: string) => carry(name, { kind: "disable" }, `${name} is disabled.`));
  person
    .command("enable <name>")
    .description("lets someone sign in again who was disabled")
    .action((name: string) => carry(name, { kind: "enable" }, `${name} can sign in again.`));
  person
    .command("drop-second-step <name>")
    .description("asks no second step of them any more, where they have lost their device and their words")
    .action((name: string) =>
      carry(name, { kind: "drop-second-step" }, `No second step is asked of ${name} any more.`),
    );
  person
    .command("change <name>")
    .description("another full name, or another mail address")
    .requiredOption("--full-name <name>", "how others see them")
    .requiredOption("--email <address>", "goes into the commits they make here")
    .action((name: string, { fullName, email }: { fullName: string; email: string }) =>
      carry(name, { kind: "describe", fullName, email }, `${name} is changed.`),
    );
  person
    .command("administrator <name> <yes-or-no>")
    .description("makes someone an administrator, or no longer one")
    .action((name: string, given: string) => {
      if (given !== "yes" && given !== "no") throw new Stop("Say yes or no.");
      const on = given === "yes";
      return carry(name, { kind: "administrator", on }, `${name} is ${on ? "an administrator" : "no administrator"}.`);
    });
}

/** npm runs this in the project's folder; a relative path is meant from where the person stands. */
function fromHere(path: string): string {
  return resolve(process.env.INIT_CWD ?? ".", path);
}

function tellProgress(words: string): void {
  if (process.stderr.isTTY) process.stderr.write(`${visible(words)}\n`);
}

async function tellTroubles(app: AppContext, server: Awaited<ReturnType<typeof backstage>>): Promise<void> {
  const troubles = await server.checkAll(app, tellProgress);
  for (const { kind, where, what, todo } of troubles)
    say(visible(`${kind === "wrong" ? "wrong" : "note "}  ${where}: ${what}. ${todo}`));
  const bad = troubles.filter(({ kind }) => kind === "wrong").length;
  if (bad > 0) throw new Stop(`${counted(bad, "thing")} ${bad === 1 ? "is" : "are"} not as it should be.`);
  say("Everything is as it should be.");
}
