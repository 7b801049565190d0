import type { Command } from "commander";
import { anchorName } from "@/core/anchor/anchor";
import { visible } from "@/core/cautions/visible";
import { readLedger, wrongFormat } from "@/core/doors/ledger/ledger";
import { counted } from "@/core/plain/words";
import { revisionName, standings } from "@/core/review/state";
import { ledgerFiles } from "@/git/ledger";
import { gitText } from "@/git/run";
import { gitFolderOf } from "@/git/transport/intake";
import { ledgerProver, readKeys } from "@/server/ledger/brought";
import { proverOf } from "@/server/ledger/keys";
import { Stop, say } from "../stop";

/** Reviews as a repository has them: read from git alone, without a server and without an account. */
export function addLedgerCommand(program: Command): void {
  program
    .command("ledger [number]")
    .description("the reviews that are kept in this clone: all of them, or one whole; asks no server")
    .option("--json", "as JSON: the state, and what does not count")
    .option(
      "--keys <ids...>",
      "believe these keys alone, or those of git config lens.ledgerKey; each is named in the ledger, under keys/",
    )
    .addHelpText(
      "after",
      "\nBrings nothing here by itself: git fetch origin 'refs/lens/ledger/*:refs/lens/ledger/*'. The format: docs/ledger.md",
    )
    .action(ledger);
}

async function ledger(number: string | undefined, { json, keys }: { json?: boolean; keys?: string[] }): Promise<void> {
  const folder = await gitFolderOf(process.env.INIT_CWD ?? ".");
  if (!folder) throw new Stop("Run this at the top of a clone.");
  const settled = await gitText(folder, ["config", "--get-all", "lens.ledgerKey"], { answers: [1] });
  const believed = keys ?? (settled === "" ? undefined : settled.split("\n"));
  const refs = await gitText(folder, ["for-each-ref", "--format=%(refname)", "refs/lens/ledger"]);
  const found = [];
  for (const ref of refs.split("\n").filter(Boolean)) {
    const stream = ref.slice(ref.lastIndexOf("/") + 1);
    const read = await readHere(folder, stream, believed);
    found.push(read);
  }
  // Whoever can write a ref can put a key beside it: whom one believes is for oneself to say.
  if (believed === undefined && found.length > 0) {
    const known = [...new Set(found.flatMap((one) => one.signers))];
    process.stderr.write(
      `Signed by ${known.join(", ")}. To believe no other from now on: git config --add lens.ledgerKey KEY\n`,
    );
  }
  found.sort((a, b) => (a.change?.number ?? 0) - (b.change?.number ?? 0));
  if (number === undefined) {
    if (json)
      return say(
        JSON.stringify(
          found.map(({ change, leftOut }) => ({ change, leftOut })),
          null,
          2,
        ),
      );
    for (const { change, leftOut } of found)
      if (change)
        say(
          visible(
            `${String(change.number).padStart(5)}  ${change.state.padEnd(9)} ${change.title}${leftOut.length > 0 ? ` (${leftOut.length} left out)` : ""}`,
          ),
        );
    for (const { change, leftOut } of found)
      if (!change)
        for (const { id, why } of leftOut.slice(0, 1)) process.stderr.write(`Not read: ${id}, ${visible(why)}.\n`);
    if (found.length === 0) say("No review is kept here: git fetch origin 'refs/lens/ledger/*:refs/lens/ledger/*'");
    return;
  }
  const one = found.find(({ change }) => String(change?.number) === number);
  if (!one?.change) throw new Stop(`No review of change set ${number} is kept in this clone.`);
  if (json) return say(JSON.stringify({ change: one.change, leftOut: one.leftOut }, null, 2));
  tell(one.change, one.names, one.leftOut);
}

async function readHere(folder: string, stream: string, believed: string[] | undefined) {
  const files = await ledgerFiles(folder, stream);
  const named = (prefix: string) => [...files].filter(([path]) => path.startsWith(prefix));
  const proves = believed ? ledgerProver(files, new Set(believed)).proves : proverOf([...readKeys(files).values()]);
  const names = new Map(
    named("people/").map(([, text]) => {
      const { id, fullName } = JSON.parse(text) as { id: string; fullName: string };
      return [id, fullName] as const;
    }),
  );
  const signers = named("keys/").map(([path]) => path.slice("keys/".length, -".json".length));
  const wrong = wrongFormat(files.get("format"));
  if (wrong !== null) return { change: null, leftOut: [{ id: stream, why: wrong }], names, signers };
  return { ...readLedger(stream, named("events/"), proves), names, signers };
}

type Read = Awaited<ReturnType<typeof readHere>>;

function tell(change: NonNullable<Read["change"]>, names: Read["names"], leftOut: Read["leftOut"]): void {
  const name = (id: string) => names.get(id) ?? id;
  const lines = [
    `Change set ${change.number}, “${change.title}”, ${change.state}, at r${change.revisions.length}`,
    `by ${name(change.author)}, from ${change.source} into ${change.target}`,
    ...(change.description ? ["", change.description] : []),
    "",
    ...standings(change).map(
      ({ person, verdict, revision }) => `${name(person)}: ${verdict} (${revisionName(revision)})`,
    ),
  ];
  for (const { anchor, comments, resolved } of change.threads) {
    lines.push("", `== ${anchorName(anchor)}, in r${anchor.revision}${resolved ? ", resolved" : ""}`);
    for (const { by, body, erased } of comments) lines.push(`${name(by)}: ${erased ? "(deleted)" : body}`);
  }
  for (const line of lines) say(visible(line));
  if (leftOut.length > 0) say(`\n${counted(leftOut.length, "entry does", "entries do")} not count:`);
  for (const { id, why } of leftOut) say(visible(`  ${id}: ${why}`));
}
