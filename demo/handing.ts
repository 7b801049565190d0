import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { CommandRequest } from "@/core/review/families/table";
import { type ChangeSet, newest } from "@/core/review/state";
import { gitText } from "@/git/run";
import { findPerson } from "@/server/access/people";
import type { Person } from "@/server/access/person";
import { findRepository, type Repository } from "@/server/access/repositories";
import { type AppContext, openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { readingOwn } from "@/server/changes/reading-own";
import { carryOut } from "@/server/changes/requests";
import { adoptClone } from "@/server/keeping/adopt";
import { syncWith } from "@/server/ledger/exchange";
import { ledgerKey } from "@/server/ledger/keys";
import { forgetStates, loadChangeSet } from "@/store/log";
import { need } from "./story";

type Name = "rosa" | "anders";
const FULL: Record<Name, string> = { rosa: "Rosa Vance", anders: "Anders Lindqvist" };

/** A clone, and the installation in it that `lens here` and `lens sync` work with. */
interface Clone {
  app: AppContext;
  top: string;
  repository: Repository;
  person: Person;
}

/**
 * Two people of the harbour review a change of two rounds over a bare repository on a disk, without any server, each offline while the other writes. `say`
 * hears what they do, with the commands for it. Gives the change set as each of them has it in the end.
 */
export async function handOver(say: (words: string) => void): Promise<Record<Name, ChangeSet>> {
  const folder = mkdtempSync(join(tmpdir(), "lens-handing-"));
  const clones: Clone[] = [];
  try {
    const bare = join(folder, "disk.git");
    await gitText(null, ["init", "--quiet", "--bare", "--initial-branch=main", bare]);
    say("A bare repository on a disk: git init --bare disk.git\n");
    const anders = await clone(folder, bare, "anders");
    await commit(anders, "The hold", "depth = 8\n");
    await git(anders, "push", "--quiet", "origin", "main");
    const rosa = await clone(folder, bare, "rosa");
    clones.push(anders, rosa);

    await git(anders, "checkout", "--quiet", "-b", "deeper");
    await commit(anders, "Dredged in the spring", "depth = 9\n");
    const stream = await offer(anders);
    await act(anders, { kind: "ready" });
    say("anders: git commit, and lens here: he offers “deeper”, and says that it is ready.");
    await sync(anders, say);

    say("\nrosa takes the disk, and says whose key that is: lens sync --accept KEY");
    await believe(rosa, anders);
    await sync(rosa, say);
    const remark = "In metres? Say so beside the number.";
    await act(rosa, { kind: "send-review", verdict: "request-changes", revision: 1, remark });
    say(`rosa, on the train: lens here: she asks for changes: “${remark}”`);
    await sync(rosa, say);

    say("\nanders has the disk again.");
    await believe(anders, rosa);
    await sync(anders, say);
    await commit(anders, "Say in what", "depth = 9  # metres\n");
    await offer(anders);
    say("anders: git commit, and lens here: that is r2.");
    await sync(anders, say);

    say("\nrosa has the disk again.");
    await sync(rosa, say);
    await act(rosa, { kind: "send-review", verdict: "approve", revision: 2, remark: "Good." });
    say("rosa: lens here: she approves r2.");
    await sync(rosa, say);

    say("\nanders takes it a last time.");
    await sync(anders, say);
    const [a, r] = [await seen(anders, stream), await seen(rosa, stream)];
    say(`\nBoth have the same: r${newest(a).number}, ${a.reviews.length} reviews, ${a.state}. In git alone:\n`);
    say(await gitText(null, ["--git-dir", bare, "log", "--format=%an: %s", `refs/lens/ledger/${stream}`]));
    return { anders: a, rosa: r };
  } finally {
    for (const { app } of clones) await app.close();
    forgetStates();
    rmSync(folder, { recursive: true, force: true });
  }
}

async function clone(folder: string, bare: string, name: Name): Promise<Clone> {
  const top = join(folder, name);
  await gitText(null, ["clone", "--quiet", bare, top]);
  const email = `${name}@harbour.example`;
  for (const [key, value] of Object.entries({ name: FULL[name], email }))
    await gitText(null, ["-C", top, "config", `user.${key}`, value]);
  await gitText(null, ["-C", top, "checkout", "--quiet", "-B", "main"]);
  const root = process.env.LENS_ROOT ?? process.cwd();
  const app = await openApp({ ...bareSettings(join(top, ".git", "lens", "here"), root), alone: true });
  const of = { folder: join(top, ".git"), name: "harbour", defaultBranch: "main" };
  need(await adoptClone(app, of, { name, fullName: FULL[name], email }));
  const [person, repository] = [await findPerson(app.db, name), await findRepository(app.db, "harbour")];
  return { app, top, person: person!, repository: repository! };
}

const git = ({ top }: Clone, ...args: string[]) => gitText(null, ["-C", top, ...args]);

async function commit(clone: Clone, message: string, text: string): Promise<void> {
  writeFileSync(join(clone.top, "hold.toml"), text);
  await git(clone, "add", "--all");
  await git(clone, "commit", "--quiet", "-m", message);
}

/** What `lens here` does with the branch that is checked out; gives the id of its change set. */
async function offer({ app, person, repository }: Clone): Promise<string> {
  forgetStates();
  await readingOwn(app, person, repository, "deeper", "main");
  return (await app.db.selectFrom("change_sets").select("id").executeTakeFirstOrThrow()).id;
}

async function act({ app, person }: Clone, request: CommandRequest): Promise<void> {
  // One process for all clones: what it remembers of a change set is that of another one.
  forgetStates();
  need(await carryOut(app, person, "harbour", 1, request));
}

async function sync({ app, repository, person }: Clone, say: (words: string) => void): Promise<void> {
  forgetStates();
  need(await syncWith(app, repository, "origin", (words) => say(`  ${words}`)));
  say(`${person.name}: lens sync: in step with origin.`);
}

async function believe(who: Clone, whom: Clone): Promise<void> {
  await git(who, "config", "--add", "lens.ledgerKey", (await ledgerKey(whom.app)).id);
}

async function seen({ app }: Clone, stream: string): Promise<ChangeSet> {
  forgetStates();
  const change = await loadChangeSet(app.db, stream);
  return { ...change!, repository: "" };
}
