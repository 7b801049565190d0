import type { Command } from "commander";
import { claimOf, keyLine } from "@/core/doors/ledger/key-line";
import { need, Stop, say, withLens } from "../stop";
import { cloneHere } from "./clone-here";

/** Says to a server whose clone this is. */
export function addKeyCommand(program: Command): void {
  program
    .command("key <name>")
    .description("a line that says to a server that this clone is yours, where you are called <name>")
    .option("--new", "with another key from now on: the old one was seen by others, or was revoked")
    .addHelpText(
      "after",
      "\nPaste it there, on the page “Tokens and sessions”. What is reviewed in this clone and handed in by lens sync is then taken in as yours.",
    )
    .action(key);
}

async function key(name: string, { new: fresh }: { new?: boolean }): Promise<void> {
  if (!/^[\w.-]{1,64}$/.test(name)) throw new Stop(`“${name}” is not the name of an account.`);
  const clone = await cloneHere();
  process.env.LENS_DATA = clone.data;
  process.env.LENS_LOG = "error";
  await withLens(
    async (app, server) => {
      need(await server.adoptClone(app, clone.repository, clone.owner));
      if (fresh) await server.dropLedgerKey(app);
      const own = await server.ledgerKey(app);
      say(keyLine({ public: own.public, signature: own.sign(claimOf(name)) }));
    },
    { begins: true, alone: true },
  );
}
