import type { Command } from "commander";
import { FLAGS, labelRequest } from "@/core/house/labels/labels";
import { need, Stop, say, withLens } from "../stop";

/** The labels of a repository, which its keepers name on a page, too. */
export function addLabelCommands(program: Command): void {
  const label = program.command("label").description("the labels of a repository");
  const within = (repository: string, action: (of: Within) => Promise<void>) =>
    withLens(async (app, server) => {
      const found = await server.findRepository(app.db, repository);
      if (!found) throw new Stop(`There is no repository of the name “${repository}”.`);
      await action({ app, server, found });
    });
  label
    .command("set <repository> <name>")
    .description("add a label, or say something else of the one of that name")
    .option("--about <words>", "what it is for", "")
    .option("--flag <flag>", `of ${FLAGS.join(", ")}`, FLAGS[0])
    .option("--paths <patterns...>", "what touches one of these has it by itself", [])
    .action((repository: string, name: string, given: object) =>
      within(repository, async ({ app, server, found }) => {
        const request = need(server.checked(labelRequest, { name, ...given }));
        need(await server.setLabel(app, server.COMMAND_LINE, found, request));
        say(`${request.name} is kept.`);
      }),
    );
  label
    .command("drop <repository> <name>")
    .description("take a label away from the repository and from all its change sets")
    .action((repository: string, name: string) =>
      within(repository, async ({ app, server, found }) => {
        await server.removeLabel(app, server.COMMAND_LINE, found, name);
        say(`${name} is no label any more.`);
      }),
    );
  label
    .command("list <repository>")
    .description("list the labels of a repository")
    .action((repository: string) =>
      within(repository, async ({ app, server, found }) => {
        for (const { name, about, paths } of await server.labelsIn(app.db, found.id))
          say(`${name}\t${about}\t${paths.join(" ")}`);
      }),
    );
}

type Lens = Parameters<Parameters<typeof withLens>[0]>;

interface Within {
  app: Lens[0];
  server: Lens[1];
  found: { id: string; name: string };
}
