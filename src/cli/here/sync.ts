import type { Command } from "commander";
import { visible } from "@/core/cautions/visible";
import { gitHere } from "@/git/clone";
import { need, Stop, say, withLens } from "../stop";
import { cloneHere } from "./clone-here";

interface SyncOptions {
  accept?: string[];
  configure?: boolean;
  offer?: boolean;
}

/** Gives and takes reviews, over any repository that both sides can push to. */
export function addSyncCommand(program: Command): void {
  program
    .command("sync [remote]")
    .description(
      "give the reviews of this clone to another repository, and take those that are there; origin unless said",
    )
    .option("--accept <keys...>", "believe these keys from now on; each speaks for the people whom it names first")
    .option("--offer", "push the branches of change sets that began here along, so that a server opens them")
    .option("--configure", "have git fetch and git push of this remote take them along, and do nothing else")
    .addHelpText(
      "after",
      "\nFor clones without a server, see lens here. Any repository will do: a bare one on a disk, or a host that takes refs.",
    )
    .action(sync);
}

async function sync(remote = "origin", { accept = [], configure = false, offer = false }: SyncOptions): Promise<void> {
  const clone = await cloneHere();
  const config = async (name: string, value: string) => {
    const { code } = await gitHere(clone.top, ["config", "--add", name, value]);
    if (code !== 0) throw new Stop(`git does not take ${name}; nothing more was done.`);
  };
  const { fetchedFrom, isRemote } = await import("@/server/ledger/exchange");
  if (!isRemote(remote)) throw new Stop("That is no name of a remote.");
  if (configure) {
    await config(`remote.${remote}.fetch`, `+refs/lens/ledger/*:${fetchedFrom(remote)}/ledger/*`);
    await config(`remote.${remote}.push`, "refs/lens/ledger/*:refs/lens/ledger/*");
    await config(`remote.${remote}.push`, "refs/heads/*:refs/heads/*");
    return say(`git fetch ${remote} and git push ${remote} take reviews along. What came is joined by lens sync.`);
  }
  for (const key of accept) {
    if (!/^[0-9a-f]{32}$/.test(key)) throw new Stop(`${key} is no key: it has 32 hexadecimal digits.`);
    await config("lens.ledgerKey", key);
  }
  process.env.LENS_DATA = clone.data;
  process.env.LENS_LOG = "error";
  await withLens(
    async (app, server) => {
      const { repository } = need(await server.adoptClone(app, clone.repository, clone.owner));
      need(await server.syncWith(app, repository, remote, (words) => say(visible(words)), offer));
    },
    { begins: true, alone: true },
  );
  say(`In step with ${remote}.`);
}
