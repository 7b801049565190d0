import type { Command } from "commander";
import * as v from "valibot";
import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { reviewsOf } from "./here/clone-house";
import { askServer, type Origin } from "./lens-server";
import { say } from "./stop";

/** Of what the server tells, no more than is used here: servers may be newer than this. */
const page = v.object({
  lines: v.array(
    v.looseObject({
      ...{ repository: v.string(), number: v.number(), title: v.string(), state: v.string(), author: v.string() },
      ...{ revision: v.number(), waits: v.string(), reasons: v.array(v.string()) },
    }),
  ),
  ...{ count: v.number(), next: v.nullable(v.string()) },
});
const notices = v.object({
  groups: v.array(
    v.looseObject({
      ...{ repository: v.string(), number: v.number(), title: v.string() },
      notices: v.array(v.looseObject({ at: v.number(), says: v.string(), why: v.string(), unread: v.boolean() })),
    }),
  ),
});

const TOKEN = "\nRun it in a clone. Asks git for your name and token; or set LENS_TOKEN to a personal token.";
/** Pages that are fetched at the most: more is narrowed down by a query. */
const MOST_PAGES = 20;

/** What is asked of the server behind a clone beyond one change set. */
export function addListCommands(program: Command): void {
  program
    .command("list [query...]")
    .description("list the change sets that a query asks for, such as: move:me, or by:me state:open still:>7d")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .option("--json", "as JSON")
    .addHelpText("after", `\nWithout a query it lists what you have to move.${TOKEN}`)
    .action(list);
  program
    .command("notices")
    .description("tell what happened that concerns you, and that you have not read")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .option("--json", "as JSON, read and unread")
    .addHelpText("after", TOKEN)
    .action(tellNotices);
}

interface Options {
  remote: string;
  json?: boolean;
}

const here = ({ remote }: Options): Promise<Origin> => reviewsOf(process.env.INIT_CWD ?? ".", remote);

async function list(words: string[], options: Options): Promise<void> {
  const origin = await here(options);
  const query = words.length > 0 ? words.map(quoted).join(" ") : "move:me";
  const lines: v.InferOutput<typeof page>["lines"] = [];
  let after: string | null = null;
  let count = 0;
  for (let i = 0; i < MOST_PAGES; i++) {
    const search = new URLSearchParams({ query, ...(after === null ? {} : { after }) });
    const found: v.InferOutput<typeof page> = await askServer(origin, `/api/changes?${search}`, page);
    lines.push(...found.lines);
    [after, count] = [found.next, found.count];
    if (after === null) break;
  }
  if (options.json) return say(JSON.stringify(lines, null, 2));
  for (const { repository, number, title, state, author, revision, waits, reasons } of lines) {
    say(visible(`${waits === "me" ? "*" : " "} ${repository} ${number}  ${title}`));
    say(visible(`    r${revision}, ${state}, by ${author}. ${reasons.join(" ")}`));
  }
  say(count > lines.length ? `The first ${lines.length} of ${count}.` : `${counted(count, "change set")}.`);
}

/** What the shell has taken the quotation marks from gets them back. */
function quoted(word: string): string {
  const [, head, rest] = /^(-?(?:[a-z]+:)?)(.*)$/s.exec(word) ?? ["", "", word];
  return /\s/.test(rest) ? `${head}"${rest.replaceAll('"', "")}"` : word;
}

async function tellNotices(options: Options): Promise<void> {
  const { groups } = await askServer(await here(options), "/api/notices", notices);
  if (options.json) return say(JSON.stringify(groups, null, 2));
  let unread = 0;
  for (const { repository, number, title, notices: all } of groups) {
    const fresh = all.filter((one) => one.unread);
    if (fresh.length === 0) continue;
    unread += fresh.length;
    say(visible(`${repository} ${number}  ${title}`));
    for (const { at, says, why } of fresh)
      say(visible(`    ${new Date(at).toISOString().slice(0, 10)}  ${says}. ${why}`));
  }
  say(unread === 0 ? "All of it is read." : `${counted(unread, "notice")} not read.`);
}
