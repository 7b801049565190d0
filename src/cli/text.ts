import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { join, resolve } from "node:path";
import { createInterface } from "node:readline/promises";
import type { Command } from "commander";
import * as v from "valibot";
import { visible } from "@/core/cautions/visible";
import { markIn, withProblems } from "@/core/doors/text-form/read";
import { gitHere } from "@/git/clone";
import { edit } from "./editor";
import { reviewsOf } from "./here/clone-house";
import { askServer, changePath, type Origin, textOf } from "./lens-server";
import { Stop, say } from "./stop";

const answer = v.object({
  says: v.array(v.string()),
  problems: v.array(v.object({ line: v.number(), says: v.string() })),
});
type Problems = v.InferOutput<typeof answer>["problems"];

const TOKEN =
  "\nRun it in a clone. Asks git for your name and token, which has to be one that may write; or set LENS_TOKEN. How a form is filled in: docs/text-form.md.";

/** Reviewing in plain text, by an editor of one's own. */
export function addTextCommands(program: Command): void {
  program
    .command("text <number>")
    .description("write a change set as text that can be written into and sent back")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .option("--file <path>", "one file of it alone, and whole")
    .option("--since <revision>", "only what is new since a revision, such as r1")
    .addHelpText("after", TOKEN)
    .action(async (number: string, { remote, ...part }: { remote: string } & Part) => {
      process.stdout.write(await formOf(await here(remote), number, part));
    });
  program
    .command("send <file>")
    .description("send such a text as one review; - reads it from standard input")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .addHelpText("after", `\nWhere something in it is wrong nothing is sent, and each line is named.${TOKEN}`)
    .action(send);
  program
    .command("review <number>")
    .description("write a review in your editor ($VISUAL, $EDITOR or vi), and send it")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .option("--file <path>", "one file of it alone, and whole")
    .option("--since <revision>", "only what is new since a revision, such as r1")
    .option("--fresh", "begin anew where a draft is kept; that one is put beside it")
    .addHelpText("after", `\nWhat you write is kept in the clone's .git folder until it has been sent.${TOKEN}`)
    .action(review);
}

const folder = () => process.env.INIT_CWD ?? ".";
const here = (remote: string): Promise<Origin> => reviewsOf(folder(), remote);

/** Which part of a change set is asked for. */
interface Part {
  file?: string;
  since?: string;
}

function formOf(origin: Origin, number: string, { file, since }: Part): Promise<string> {
  const search = new URLSearchParams();
  if (file !== undefined) search.set("path", file);
  if (since !== undefined) search.set("since", since.replace(/^r(?=\d)/, ""));
  return textOf(origin, changePath(origin, number, `/text${search.size > 0 ? `?${search}` : ""}`));
}

/** Sends a form; tells what was done, or gives what is wrong in it. */
async function sendForm(origin: Origin, text: string): Promise<Problems> {
  const mark = markIn(text);
  if (!mark) throw new Stop("The first line is missing, by which one knows which change set this is of.");
  if (mark.repository !== origin.repository)
    throw new Stop(`This is of ${mark.repository}, and this is a clone of ${origin.repository}.`);
  const path = changePath(origin, String(mark.number), "/text?strict=yes");
  const { says, problems } = await askServer(origin, path, answer, { text });
  for (const words of says) say(visible(words));
  return problems;
}

async function send(file: string, { remote }: { remote: string }): Promise<void> {
  const place = file === "-" ? 0 : resolve(folder(), file);
  let text: string;
  try {
    text = readFileSync(place, "utf8");
  } catch {
    throw new Stop(`${file} cannot be read.`);
  }
  const problems = await sendForm(await here(remote), text);
  if (problems.length > 0) throw new Stop(`${told(file, problems)}\nNothing was sent.`);
}

function told(file: string, problems: Problems): string {
  return problems.map(({ line, says }) => visible(`${file}:${line}: ${says}`)).join("\n");
}

interface ReviewOptions extends Part {
  remote: string;
  fresh?: boolean;
}

async function review(number: string, { remote, fresh, ...part }: ReviewOptions): Promise<void> {
  const origin = await here(remote);
  const { out } = await gitHere(folder(), ["rev-parse", "--absolute-git-dir"]);
  if (!/^\d+$/.test(number)) throw new Stop(`“${number}” is not the number of a change set.`);
  const draft = join(out.trim(), `lens-review-${number}.txt`);
  if (fresh && existsSync(draft)) renameSync(draft, `${draft}.before`);
  const goesOn = existsSync(draft);
  if (goesOn) process.stderr.write(`Goes on with what you wrote in ${draft}; --fresh begins anew.\n`);
  else writeFileSync(draft, await formOf(origin, number, part), { mode: 0o600 });
  const begun = goesOn ? "" : readFileSync(draft, "utf8");
  for (;;) {
    edit(draft);
    const text = readFileSync(draft, "utf8");
    if (text === begun) {
      rmSync(draft);
      return say("Nothing was written, and nothing is sent.");
    }
    const problems = await sendForm(origin, text).catch((error: Error) => {
      throw new Stop(`${error.message}\nNothing was sent; what you wrote is kept in ${draft}.`);
    });
    if (problems.length === 0) return rmSync(draft);
    writeFileSync(draft, withProblems(text, problems));
    process.stderr.write(`${told(draft, problems)}\n`);
    if (!(await again())) throw new Stop(`Nothing was sent; what you wrote is kept in ${draft}.`);
  }
}

/** Whether to go on; nobody is asked where no terminal is. */
async function again(): Promise<boolean> {
  if (!process.stdin.isTTY) return false;
  const lines = createInterface({ input: process.stdin, output: process.stderr });
  const said = await lines.question("Open it again? [Y/n] ");
  lines.close();
  return !/^n/i.test(said.trim());
}
