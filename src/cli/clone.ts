import type { Command } from "commander";
import * as v from "valibot";
import { visible } from "@/core/cautions/visible";
import { gitHere } from "@/git/clone";
import { reviewsOf } from "./here/clone-house";
import { askChange, originOf } from "./lens-server";
import { Stop, say } from "./stop";

/** Of the parts of a change set, no more than is used here: servers may be newer than this. */
const taken = v.object({
  change: v.object({
    ...{ id: v.string(), title: v.string() },
    revisions: v.array(v.object({ number: v.number(), head: v.string() })),
  }),
});
const condition = v.object({ met: v.boolean(), says: v.string(), who: v.nullable(v.string()) });
const asked = v.object({
  change: v.object({ title: v.string(), target: v.string() }),
  gate: v.object({ gate: v.object({ open: v.boolean(), conditions: v.array(condition) }) }),
});

const TOKEN = "\nAsks git for your name and token; or set LENS_TOKEN to a personal token.";

/** What is done in a clone: taking a revision, asking how the gate stands. */
export function addCloneCommands(program: Command): void {
  program
    .command("take <number> [revision]")
    .description("bring a change set of a cloned repository to this clone: its newest revision, or one such as r2")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .option("--branch <name>", "make a branch of it; without this it is checked out by itself")
    .addHelpText("after", TOKEN)
    .action(take);
  program
    .command("gate <number>")
    .description("say what a change set of a cloned repository still needs before it merges, and who can give it")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .addHelpText("after", `\nEnds with 0 when the gate is met, and with 1 when it is not.${TOKEN}`)
    .action(gate);
}

async function take(
  number: string,
  revision: string | undefined,
  { remote, branch }: { remote: string; branch?: string },
): Promise<void> {
  const folder = process.env.INIT_CWD ?? ".";
  if (revision !== undefined && !/^r\d+$/.test(revision))
    throw new Stop(`“${revision}” is not a revision, such as r2.`);
  const { change } = await askChange(await originOf(folder, remote), number, taken);
  const { id, title, revisions } = change;
  const wanted = revision ? revisions.find((one) => `r${one.number}` === revision) : revisions.at(-1);
  if (!wanted) throw new Stop(`Change set ${number} has no ${revision}: its newest revision is r${revisions.length}.`);
  const ref = `refs/lens/${id}/r${wanted.number}/head`;
  if ((await gitHere(folder, ["fetch", "--quiet", remote, ref])).code !== 0)
    throw new Stop(`r${wanted.number} could not be fetched.`);
  const into = branch ? ["-c", branch] : ["--detach"];
  if ((await gitHere(folder, ["switch", "--quiet", ...into, wanted.head])).code !== 0)
    throw new Stop("It was fetched, and could not be checked out here.");
  tell(`r${wanted.number} of change set ${number}, “${title}”: ${branch ? `on ${branch}` : "checked out by itself"}.`);
}

async function gate(number: string, { remote }: { remote: string }): Promise<void> {
  const folder = process.env.INIT_CWD ?? ".";
  const { change, gate: part } = await askChange(await reviewsOf(folder, remote), number, asked);
  const { title, target } = change;
  const now = part.gate;
  tell(`Change set ${number}, “${title}”, into ${target}:`);
  for (const { met, says, who } of now.conditions)
    tell(`  ${met ? "met    " : "not met"}  ${says}${who ? ` ${who}` : ""}`);
  if (!now.open) throw new Stop("The gate is not met.");
  say("The gate is met.");
}

/** Says what the server told, with the signs written out that would move the cursor. */
function tell(words: string): void {
  say(visible(words));
}
