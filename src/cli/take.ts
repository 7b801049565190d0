import type { Command } from "commander";
import * as v from "valibot";
import { gitHere } from "@/git/clone";
import { Stop, say } from "./stop";

const answer = v.object({
  id: v.string(),
  title: v.string(),
  revisions: v.array(v.object({ number: v.number(), head: v.string() })),
});
const refusal = v.object({ refusal: v.object({ reason: v.string() }) });

export function addTakeCommand(program: Command): void {
  program
    .command("take <number> [revision]")
    .description("bring a change set of a cloned repository to this clone: its newest revision, or one such as r2")
    .option("--remote <name>", "the remote that the repository was cloned from", "origin")
    .option("--branch <name>", "make a branch of it; without this it is checked out by itself")
    .addHelpText("after", "\nAsks git for your name and token; or set LENS_TOKEN to a personal token.")
    .action(take);
}

async function take(
  number: string,
  revision: string | undefined,
  { remote, branch }: { remote: string; branch?: string },
): Promise<void> {
  const folder = process.env.INIT_CWD ?? ".";
  if (!/^\d+$/.test(number)) throw new Stop(`“${number}” is not the number of a change set.`);
  if (revision !== undefined && !/^r\d+$/.test(revision))
    throw new Stop(`“${revision}” is not a revision, such as r2.`);
  const { out, code } = await gitHere(folder, ["remote", "get-url", "--", remote]);
  if (code !== 0)
    throw new Stop(`There is no remote “${remote}” here: run this within a clone, or name it by --remote.`);
  const [, base, repository] = /^(https?:\/\/.+)\/git\/([^/]+?)(?:\.git)?\/?$/.exec(out.trim()) ?? [];
  if (!base || !repository)
    throw new Stop(`${out.trim()} is not the address of a repository here: it has no /git/NAME.git.`);
  const { address, authorization } = await credentials(folder, base);
  const response = await fetch(`${address}/api/repos/${encodeURIComponent(repository)}/changes/${number}`, {
    headers: { authorization },
  }).catch((error: Error) => {
    throw new Stop(`${address} does not answer: ${(error.cause as Error | undefined)?.message ?? error.message}.`);
  });
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) {
    const told = v.safeParse(refusal, body);
    throw new Stop(told.success ? told.output.refusal.reason : `${address} answers with ${response.status}.`);
  }
  const change = v.safeParse(answer, body);
  if (!change.success) throw new Stop(`${address} answers with something else than a change set.`);
  const { id, title, revisions } = change.output;
  const wanted = revision ? revisions.find((one) => `r${one.number}` === revision) : revisions.at(-1);
  if (!wanted) throw new Stop(`Change set ${number} has no ${revision}: its newest revision is r${revisions.length}.`);
  const ref = `refs/lens/${id}/r${wanted.number}/head`;
  if ((await gitHere(folder, ["fetch", "--quiet", remote, ref])).code !== 0)
    throw new Stop(`r${wanted.number} could not be fetched.`);
  const into = branch ? ["-c", branch] : ["--detach"];
  if ((await gitHere(folder, ["switch", "--quiet", ...into, wanted.head])).code !== 0)
    throw new Stop("It was fetched, and could not be checked out here.");
  say(`r${wanted.number} of change set ${number}, “${title}”: ${branch ? `on ${branch}` : "checked out by itself"}.`);
}

/** The server's address without a name in it, and what to show it: as git itself would. */
async function credentials(folder: string, base: string): Promise<{ address: string; authorization: string }> {
  const url = new URL(base);
  const { username, password } = url;
  url.username = "";
  url.password = "";
  const address = url.href.replace(/\/$/, "");
  const basic = (name: string, secret: string) => `Basic ${Buffer.from(`${name}:${secret}`).toString("base64")}`;
  const token = process.env.LENS_TOKEN;
  if (token) return { address, authorization: `Bearer ${token}` };
  if (password) return { address, authorization: basic(decodeURIComponent(username), decodeURIComponent(password)) };
  const asked = `protocol=${url.protocol.slice(0, -1)}\nhost=${url.host}\n${username ? `username=${username}\n` : ""}\n`;
  const { out, code } = await gitHere(folder, ["credential", "fill"], asked);
  const told = Object.fromEntries(
    out.split("\n").map((line) => [line.split("=", 1)[0], line.slice(line.indexOf("=") + 1)]),
  );
  if (code !== 0 || !told.password) throw new Stop("git has no token for this server: set LENS_TOKEN to one.");
  return { address, authorization: basic(told.username ?? "", told.password) };
}
