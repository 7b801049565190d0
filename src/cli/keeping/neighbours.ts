import type { Command } from "commander";
import { visible } from "@/core/cautions/visible";
import { need, Stop, say, withLens } from "../stop";

type Lens = Parameters<Parameters<typeof withLens>[0]>;

/** Other servers that hold the reviews of a repository. */
export function addNeighbourCommands(program: Command): void {
  const neighbour = program
    .command("neighbour")
    .description("other servers that hold the reviews of the same repository: each takes in what the other wrote");
  const within = (repository: string, action: (app: Lens[0], server: Lens[1], of: { id: string }) => Promise<void>) =>
    withLens(async (app, server) => {
      const found = await server.findRepository(app.db, repository);
      if (!found) throw new Stop(`There is no repository of the name “${repository}”.`);
      await action(app, server, found);
    });
  neighbour
    .command("set <repository> <name> <address>")
    .description("ask the server at this address, https://SERVER/git/NAME.git, for what was said there")
    .requiredOption("--key <key>", "what it signs with: the page “Tokens and sessions” there says it")
    .option("--account <name>", "who comes in there; its token, which has to read and fetch, is in LENS_SECRET", "")
    .option("--every <minutes>", "how often it is asked", "5")
    .addHelpText(
      "after",
      "\nTo be told at once: a webhook of the other server to /api/repos/REPOSITORY/neighbours/NAME/told, with its secret in LENS_BELL." +
        "\nIts people are shown as “at NAME”; what they say counts at no gate here. What began there is decided there.",
    )
    .action(
      (repository: string, name: string, address: string, given: { key: string; account: string; every: string }) =>
        within(repository, async (app, server, of) => {
          const { LENS_SECRET: secret = "", LENS_BELL: bell = "" } = process.env;
          need(
            await server.keepNeighbour(app, of, { ...given, name, address, secret, bell, every: Number(given.every) }),
          );
          say(`${name} is asked every ${given.every} minutes. This server signs with ${await server.ownKeyId(app)}`);
        }),
    );
  neighbour
    .command("drop <repository> <name>")
    .description("ask it no more; what it said stays")
    .action((repository: string, name: string) =>
      within(repository, async (app, server, of) => {
        need(await server.dropNeighbour(app, of, name));
        say(`${name} is asked no more.`);
      }),
    );
  neighbour
    .command("join <elsewhere> [person]")
    .description(
      "say that somebody of another server, as they are called here, is a person of this one; nobody again without one",
    )
    .addHelpText("after", "\nThey are shown as that person from then on. What they say there counts at no gate here.")
    .action((elsewhere: string, person: string | undefined) =>
      withLens(async (app, server) => {
        need(await server.joinPeople(app, elsewhere, person ?? null, server.COMMAND_LINE));
        say(person ? `${elsewhere} is shown as ${person}.` : `${elsewhere} is nobody of this server again.`);
      }),
    );
  neighbour
    .command("list <repository>")
    .description("the neighbours, when they were asked, and what was wrong")
    .action((repository: string) =>
      within(repository, async (app, server, of) => {
        for (const { name, address, key, asked_at, problem } of await server.neighboursOf(app, of)) {
          const when = asked_at === null ? "never asked" : `asked ${new Date(asked_at).toISOString()}`;
          say(visible(`${name}\t${address}\t${key}\t${when}\t${problem}`));
        }
      }),
    );
}
