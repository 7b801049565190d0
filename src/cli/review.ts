import type { Command } from "commander";
import * as v from "valibot";
import { visible } from "@/core/cautions/visible";
import { newIn } from "@/core/checks/log";
import { counted } from "@/core/plain/words";
import { gitHere } from "@/git/clone";
import { reviewsOf } from "./here/clone-house";
import { askChange, askServer, changePath, type Origin } from "./lens-server";
import { Stop, say } from "./stop";

/** Of what the server tells, no more than is used here: servers may be newer than this. */
const check = v.looseObject({
  name: v.string(),
  by: v.string(),
  state: v.string(),
  summary: v.string(),
  commit: v.string(),
});
const shown = v.looseObject({
  change: v.looseObject({
    ...{ number: v.number(), title: v.string(), description: v.string(), state: v.string() },
    ...{ source: v.string(), target: v.string(), author: v.string() },
    revisions: v.array(v.looseObject({ number: v.number(), head: v.string() })),
    threads: v.array(v.looseObject({ resolved: v.unknown() })),
    checks: v.array(check),
  }),
  gate: v.looseObject({
    gate: v.object({
      open: v.boolean(),
      conditions: v.array(v.looseObject({ met: v.boolean(), says: v.string(), who: v.nullable(v.string()) })),
    }),
  }),
  around: v.looseObject({ people: v.record(v.string(), v.looseObject({ fullName: v.string() })) }),
});
const lines = v.object({
  lines: v.array(
    v.looseObject({
      ...{ repository: v.string(), number: v.number(), title: v.string(), revision: v.number() },
      reasons: v.array(v.string()),
    }),
  ),
  count: v.number(),
});
const waiting = v.array(v.looseObject({ repository: v.string(), version: v.number() }));
const made = v.object({ number: v.number() });
const preview = v.looseObject({ message: v.string() });
const opening = v.looseObject({ commits: v.array(v.looseObject({ subject: v.string() })), description: v.string() });

const TOKEN = "\nRun it in a clone. Asks git for your name and token; or set LENS_TOKEN to a personal token.";

interface Options {
  remote: string;
  json?: boolean;
}

/** What is done with change sets from a terminal, beside reviewing them. */
export function addReviewCommands(program: Command): void {
  const inClone = (name: string, about: string) =>
    program
      .command(name)
      .description(about)
      .option("--remote <name>", "the remote that the repository was cloned from", "origin")
      .option("--json", "as JSON")
      .addHelpText("after", TOKEN);
  inClone("desk", "what waits for you, and what you wait for").action(desk);
  inClone("show <number>", "what a change set is for, how it stands, and what it still needs").action(show);
  inClone("checks <number>", "what the checks of its newest revision say; ends with 1 where one failed").action(checks);
  inClone("log <number> <name>", "the end of what a check of its newest revision wrote; with --follow until it is over")
    .option("--follow", "wait for more while it runs")
    .action(log);
  inClone("check-again <number> <name>", "ask for a check of its newest revision again").action(checkAgain);
  inClone("new", "push the branch that is checked out, and offer it for review")
    .option("--target <branch>", "what it is to merge into; the default branch unless said")
    .option("--title <words>", "what it does; the first commit says it unless said")
    .option("--description <words>", "why")
    .option("--draft", "not ready yet: it asks nobody, and cannot merge")
    .action(offer);
  inClone("merge <number>", "merge a change set whose gate is met")
    .option("--how <way>", "merge, squash or rebase, of those that the repository has", "merge")
    .action(merge);
}

const here = ({ remote }: Options): Promise<Origin> => reviewsOf(process.env.INIT_CWD ?? ".", remote);
const json = (what: unknown) => say(JSON.stringify(what, null, 2));

async function desk(options: Options): Promise<void> {
  const origin = await here(options);
  const ask = (query: string) => askServer(origin, `/api/changes?${new URLSearchParams({ query })}`, lines);
  const [mine, theirs] = [await ask("move:me"), await ask("by:me state:going -move:me")];
  const rules = await askServer(origin, "/api/rules/waiting", waiting);
  if (options.json) return json({ forMe: mine.lines, forThem: theirs.lines, rules });
  for (const { repository, version } of rules)
    say(`Edition ${version} of the rules of ${repository} counts when a second keeper agrees: you can, on its page.`);
  for (const [title, { lines: found, count }] of [
    ["Waits for you", mine],
    ["You wait for", theirs],
  ] as const) {
    say(`${title}: ${count === 0 ? "nothing" : counted(count, "change set")}.`);
    for (const { repository, number, title: name, revision, reasons } of found) {
      say(visible(`  ${repository} ${number}  ${name}`));
      say(visible(`      r${revision}. ${reasons.join(" ")}`));
    }
  }
}

async function show(number: string, options: Options): Promise<void> {
  const view = await askChange(await here(options), number, shown);
  if (options.json) return json(view);
  const { change, gate, around } = view;
  const open = change.threads.filter(({ resolved }) => resolved === null).length;
  say(visible(`Change set ${change.number}, “${change.title}”, ${change.state}, at r${change.revisions.length}`));
  say(
    visible(
      `by ${around.people[change.author]?.fullName ?? change.author}, from ${change.source} into ${change.target}`,
    ),
  );
  if (change.description.trim() !== "") say(`\n${visible(change.description.trim())}`);
  say(`\n${open === 0 ? "No thread is open." : `${counted(open, "thread")} open.`}`);
  for (const { met, says, who } of gate.gate.conditions)
    say(visible(`  ${met ? "met    " : "not met"}  ${says}${who ? ` ${who}` : ""}`));
}

async function checks(number: string, options: Options): Promise<void> {
  const { change } = await askChange(await here(options), number, shown);
  const head = change.revisions.at(-1)?.head;
  const now = change.checks.filter(({ commit }) => commit === head);
  if (options.json) return json(now);
  for (const { name, state, summary } of now)
    say(visible(`${state.padEnd(8)} ${name}${summary ? `: ${summary}` : ""}`));
  if (now.length === 0) say("No check has told anything of the newest revision.");
  if (now.some(({ state }) => state === "failed")) throw new Stop("A check failed.");
}

/** Between two looks at a log that grows, in milliseconds. */
const FOLLOWED_EVERY = 1_000;

async function log(number: string, name: string, options: Options & { follow?: boolean }): Promise<void> {
  const origin = await here(options);
  let before = "";
  for (;;) {
    const { change } = await askChange(origin, number, shown);
    const check = change.checks.find((one) => one.commit === change.revisions.at(-1)?.head && one.name === name);
    if (!check) throw new Stop(`No check “${name}” has told anything of the newest revision.`);
    const query = new URLSearchParams({ check: name, by: check.by });
    const { tail } = await askServer(
      origin,
      changePath(origin, number, `/log?${query}`),
      v.object({ tail: v.string() }),
    );
    process.stdout.write(newIn(before, tail).split("\n").map(visible).join("\n"));
    before = tail;
    const goes = check.state === "waiting" || check.state === "running";
    if (!goes || !options.follow) return;
    await new Promise((resolve) => setTimeout(resolve, FOLLOWED_EVERY));
  }
}

async function checkAgain(number: string, name: string, options: Options): Promise<void> {
  const origin = await here(options);
  await askServer(origin, changePath(origin, number), v.unknown(), { json: { kind: "check-again", name } });
  say(visible(`${name} is asked for again.`));
}

interface NewOptions extends Options {
  target?: string;
  title?: string;
  description?: string;
  draft?: boolean;
}

async function offer({ target, title, description, draft, ...options }: NewOptions): Promise<void> {
  const folder = process.env.INIT_CWD ?? ".";
  const origin = await here(options);
  const branch = (await gitHere(folder, ["symbolic-ref", "--short", "-q", "HEAD"])).out.trim();
  if (branch === "") throw new Stop("No branch is checked out here: git switch -c NAME makes one.");
  const heads = (await gitHere(folder, ["ls-remote", "--symref", "--", options.remote, "HEAD"])).out;
  const into = target ?? /^ref: refs\/heads\/(\S+)\tHEAD$/m.exec(heads)?.[1];
  if (!into) throw new Stop("The default branch is not known: say --target.");
  if (into === branch) throw new Stop(`${branch} is what it would merge into: make a branch of its own for your work.`);
  // In a clone by itself the branch is there; lens sync and git push hand both over.
  if (!origin.alone) {
    const push = ["push", "--quiet", "--set-upstream", options.remote, `HEAD:refs/heads/${branch}`];
    if ((await gitHere(folder, push)).code !== 0) throw new Stop("It could not be pushed, and nothing was offered.");
  }
  const repo = `/api/repos/${encodeURIComponent(origin.repository)}`;
  const before = await askServer(
    origin,
    `${repo}/preview?${new URLSearchParams({ source: branch, target: into })}`,
    opening,
  );
  const { number } = await askServer(origin, `${repo}/changes`, made, {
    json: {
      source: branch,
      target: into,
      draft: draft ?? false,
      title: title ?? before.commits.at(-1)?.subject ?? branch,
      description: description ?? before.description,
    },
  });
  if (options.json) return json({ number });
  const place = URL.canParse(origin.address)
    ? `${origin.address}/r/${origin.repository}/c/${number}`
    : "lens here shows it.";
  say(`Change set ${number}: ${place}`);
}

async function merge(number: string, { how, ...options }: Options & { how: string }): Promise<void> {
  const origin = await here(options);
  const { change } = await askChange(origin, number, shown);
  const { message } = await askServer(
    origin,
    changePath(origin, number, `/merge?${new URLSearchParams({ how })}`),
    preview,
  );
  const merged = await askServer(origin, changePath(origin, number), v.looseObject({}), {
    json: { kind: "merge", revision: change.revisions.length, message, how },
  });
  if (options.json) return json(merged);
  say(visible(`Change set ${number}, “${change.title}”, is in ${change.target}.`));
}
