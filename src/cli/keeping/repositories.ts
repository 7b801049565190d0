import { readFileSync } from "node:fs";
import { resolve } from "node:path";
import type { Command } from "commander";
import { counted } from "@/core/plain/words";
import { ROLES, type Role } from "@/core/review/roles";
import { DELETED_DAYS, type RepositoryRequest } from "@/core/views/setting-up-view";
import type { Origin } from "@/git/transport/origin";
import { need, Stop, say, withLens } from "../stop";

export function addRepositoryCommands(program: Command): void {
  const repo = program.command("repo").description("repositories");
  repo
    .command("add <name> [place]")
    .description(
      "take a git repository in under a name: from a folder, a bundle or an address; without any, an empty one",
    )
    .option("--account <name>", "with what to come in at an address; the secret is read from LENS_SECRET", "")
    .addHelpText(
      "after",
      "\nThe repository is copied; the one at [place] is not touched. <name> is used in addresses: lower-case letters, digits, dots, dashes.",
    )
    .action((name: string, path: string | undefined, { account }: { account: string }) =>
      withLens(async (app, server) => {
        const { branches, repository } = need(
          await server.addRepository(app, name, originOf(path, account), {
            progress: process.stderr.isTTY ? (words: string) => process.stderr.write(words) : undefined,
          }),
        );
        await server.audit(app, server.COMMAND_LINE, "repository-added", { repository: name });
        say(
          `Took ${repository.name} in: ${counted(branches, "branch", "branches")}, ${repository.defaultBranch} by default.`,
        );
        say(
          "Administrators may use it now. Give others a role with: npm run lens -- role set PERSON " +
            `${name} contributor`,
        );
      }),
    );
  repo
    .command("fetch <name>")
    .description("bring in what came to the repository that it was taken from")
    .addHelpText(
      "after",
      "\nBranches move forward; one that is offered in an open change set may also have been rewritten. A change set then offers to record its next revision.",
    )
    .action((name: string) =>
      withLens(async (app, server) => {
        const fetched = need(await server.fetchRepository(app, name));
        await server.audit(app, server.COMMAND_LINE, "repository-fetched", {
          repository: name,
          branches: fetched.length,
        });
        for (const { branch, what } of fetched)
          say(what === "kept" ? `${branch}: differs there, and was left as it is here` : `${branch}: ${what}`);
        if (fetched.length === 0) say("Nothing new.");
      }),
    );
  repo
    .command("list")
    .description("list the repositories")
    .action(() =>
      withLens(async ({ db }) => {
        const rows = await db.selectFrom("repositories").selectAll().orderBy("name").execute();
        for (const { name, default_branch } of rows) say(`${name}\t${default_branch}`);
        if (rows.length === 0) say("There is no repository yet: npm run lens -- repo add NAME PATH");
      }),
    );

  const change = (name: string, request: RepositoryRequest, said: string) =>
    withLens(async (app, server) => {
      need(await server.changeRepository(app, server.COMMAND_LINE, name, request));
      say(said);
    });
  repo
    .command("archive <name>")
    .description("from now on it is read, and nothing in it changes")
    .action((name: string) => change(name, { kind: "archive" }, `${name} is archived.`));
  repo
    .command("open <name>")
    .description("opens an archived one again")
    .action((name: string) => change(name, { kind: "open-again" }, `${name} is open again.`));
  repo
    .command("delete <name>")
    .description(
      `nobody sees it any more; it can be brought back for ${DELETED_DAYS} days, then it is removed for ever`,
    )
    .requiredOption("--again <name>", "its name once more, so that nobody deletes another one than they mean")
    .action((name: string, { again }: { again: string }) =>
      change(name, { kind: "delete", name: again }, `${name} is deleted: npm run lens -- repo restore ${name}`),
    );
  repo
    .command("restore <name>")
    .description("brings a deleted one back")
    .action((name: string) => change(name, { kind: "restore" }, `${name} is back.`));

  const role = program.command("role").description("who may do what in a repository");
  role
    .command("set <person> <repository> <role>")
    .description(`give a person a role: ${ROLES.join(", ")}; or none, to take it away`)
    .action((person: string, repository: string, given: string) =>
      withLens(async (app, server) => {
        if (given !== "none" && !ROLES.includes(given as Role))
          throw new Stop(`There is no role “${given}”: it is ${ROLES.join(", ")} or none.`);
        const role = given === "none" ? null : (given as Role);
        need(await server.changeAccount(app, server.COMMAND_LINE, person, { kind: "role", repository, role }));
        say(
          given === "none"
            ? `${person} has no role in ${repository} any more.`
            : `${person} is ${given} in ${repository}.`,
        );
      }),
    );

  const rule = program.command("rule").description("what a branch asks before a change set merges into it");
  rule
    .command("set <repository> <branch>")
    .description(
      "how many approvals by people other than the author; the branch '*' is for all without a rule of their own",
    )
    .requiredOption("--approvals <number>", "a whole number from 0 to 50")
    .option("--no-settled", "threads that must be settled and tasks need not be")
    .action((repository: string, branch: string, { approvals, settled }: { approvals: string; settled: boolean }) =>
      withLens(async (app, server) => {
        if (!/^\d+$/.test(approvals)) throw new Stop("The number of approvals is a whole number from 0 to 50.");
        const branches = branch === "*" ? "**" : branch;
        const said = { approvals: { count: Number(approvals) }, threads: settled, tasks: settled };
        const { notes } = need(await server.setRule(app, repository, branches, said));
        say(
          `${branch === "*" ? "Every branch" : branch} of ${repository} asks for ${counted(Number(approvals), "approval")}.`,
        );
        for (const note of notes) say(note);
      }),
    );

  rule
    .command("export <repository>")
    .description("all rules of a repository, as the JSON file that can be imported (docs/rules.schema.json)")
    .action((name: string) =>
      withLens(async ({ db }, server) => {
        const repository = await db.selectFrom("repositories").select("id").where("name", "=", name).executeTakeFirst();
        if (!repository) throw new Stop(`There is no repository of the name “${name}”.`);
        say(JSON.stringify(await server.rulesOf(db, repository.id), null, 2));
      }),
    );
  rule
    .command("import <repository> <file>")
    .description("put the rules of a JSON file in the place of those that are there; the history keeps them")
    .option("--note <words>", "what this is for", "")
    .action((name: string, file: string, { note }: { note: string }) =>
      withLens(async (app, server) => {
        const repository = await server.findRepository(app.db, name);
        if (!repository) throw new Stop(`There is no repository of the name “${name}”.`);
        const place = resolve(process.env.INIT_CWD ?? ".", file);
        const { version, notes } = need(await server.keepRules(app, repository, null, readJson(place), note, null));
        say(`Edition ${version} of the rules of ${name} counts from now on.`);
        for (const words of notes) say(words);
      }),
    );
}

/** npm runs this in the project's folder; a relative path is meant from where the person stands. */
function originOf(place: string | undefined, account: string): Origin {
  if (place === undefined) return { kind: "nothing", branch: "main" };
  if (/^https?:\/\//.test(place)) return { kind: "address", url: place, account, secret: process.env.LENS_SECRET };
  const path = resolve(process.env.INIT_CWD ?? ".", place);
  return { kind: place.endsWith(".bundle") ? "bundle" : "folder", path };
}

function readJson(place: string): unknown {
  let text: string;
  try {
    text = readFileSync(place, "utf8");
  } catch {
    throw new Stop(`${place} cannot be read.`);
  }
  try {
    return JSON.parse(text);
  } catch {
    throw new Stop(`${place} is not JSON.`);
  }
}
