import type { Facts } from "@/core/review/decide";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import type { GateFacts } from "@/core/rules/facts";
import type { Rule } from "@/core/rules/rule";
import { linkedItems, trailersIn } from "@/core/work/trailers";
import { mergeTree } from "@/git/merge";
import { branches, type CommitShape, commitShapes, countCommits } from "@/git/repository";
import type { Queries } from "@/store/database";
import { filesBetween } from "./files-between";
import type { Lens } from "./lens";
import { type Person, peopleIn, roleOf } from "./people";
import { readingOf } from "./reading";
import { folderOf } from "./repositories";
import { ruleFor } from "./rules";

/** What a decision about a change set needs to know beyond it: who asks, what the target asks, and what the gate has to know. */
export async function factsFor(
  lens: Lens,
  db: Queries,
  change: ChangeSet,
  person: Person,
  tips: Tips = tipsOnce(),
): Promise<Facts> {
  const rule = await ruleFor(db, change.repository, change.target);
  return {
    actor: {
      id: person.id,
      role: await roleOf(db, person.id, change.repository),
      machine: person.machine === 1,
    },
    rule,
    gate: await gateFactsFor(lens, db, change, rule, tips),
  };
}

/** What the gate of a change set is evaluated with. Commits never change, so what they tell is asked of git once. */
export async function gateFactsFor(
  lens: Lens,
  db: Queries,
  change: ChangeSet,
  rule: Rule,
  tips: Tips = tipsOnce(),
): Promise<GateFacts> {
  const folder = folderOf(lens, { id: change.repository });
  const { base, head } = newest(change);
  const files = await filesBetween(lens, folder, { from: base, to: head });
  const target = goesOn(change) ? await tips(folder, change.target) : null;
  const commits = await shapesOf(lens, folder, change);
  const messages = commits.map(({ message }) => message);
  return {
    now: lens.now(),
    people: await peopleIn(db, change.repository),
    paths: files.map(({ path }) => path),
    commits: commits.map(({ id, subject, merge, message }) => ({
      ...{ id, subject, merge },
      signedOff: trailersIn(message).some(({ key }) => key.toLowerCase() === "signed-off-by"),
    })),
    conflicts: target ? await conflictsWith(lens, folder, target, head) : [],
    behind: target && rule.upToDate ? await behind(lens, folder, target, head) : 0,
    toRead: rule.mostToRead === null ? null : await toRead(lens, folder, { from: base, to: head }),
    workItems: linkedItems(change.links, change.description, messages).map(({ item }) => item),
  };
}

/** The commits of the newest revision, with what rules may ask of them. */
export function shapesOf(lens: Lens, folder: string, change: ChangeSet): Promise<CommitShape[]> {
  const { base, head } = newest(change);
  return lens
    .kept<CommitShape[]>("shapes", 200)
    .get(`${folder}\0${base}\0${head}`, () => commitShapes(folder, base, head));
}

/** Where branches are now. */
export type Tips = (folder: string, branch: string) => Promise<string | null>;

/** Asks git once for each repository: for those who look at many change sets at once. */
export function tipsOnce(): Tips {
  const asked = new Map<string, Promise<Map<string, string>>>();
  return async (folder, branch) => {
    const known =
      asked.get(folder) ?? branches(folder).then((all) => new Map(all.map(({ name, commit }) => [name, commit])));
    asked.set(folder, known);
    return (await known).get(branch) ?? null;
  };
}

/** Files in which two commits conflict. Both never change, so it is tried once. */
function conflictsWith(lens: Lens, folder: string, target: string, head: string): Promise<string[]> {
  return lens.kept<string[]>("conflicts", 500).get(`${folder}\0${target}\0${head}`, async () => {
    const merged = await mergeTree(folder, target, head);
    return merged.clean ? [] : merged.paths;
  });
}

function behind(lens: Lens, folder: string, target: string, head: string): Promise<number> {
  return lens
    .kept<number>("behind", 200)
    .get(`${folder}\0${head}\0${target}`, () => countCommits(folder, head, target));
}

/** How long the gate waits for a count before it says that it is being made. */
const PATIENCE = 400;

function toRead(lens: Lens, folder: string, points: { from: string; to: string }): Promise<number | null> {
  return Promise.race([
    readingOf(lens, folder, points).then(({ toRead: lines }) => lines),
    new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE)),
  ]);
}
