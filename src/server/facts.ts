import type { Facts } from "@/core/review/decide";
import { type ChangeSet, newest } from "@/core/review/state";
import type { GateFacts } from "@/core/rules/facts";
import type { Rule } from "@/core/rules/rule";
import { linkedItems, trailersIn } from "@/core/work/trailers";
import { branchCommit, type CommitShape, commitShapes, countCommits } from "@/git/repository";
import type { Queries } from "@/store/database";
import { filesBetween } from "./files-between";
import type { Lens } from "./lens";
import { type Person, peopleIn, roleOf } from "./people";
import { readingOf } from "./reading";
import { folderOf } from "./repositories";
import { ruleFor } from "./rules";

/** What a decision about a change set needs to know beyond it: who asks, what the target asks, and what the gate has to know. */
export async function factsFor(lens: Lens, db: Queries, change: ChangeSet, person: Person): Promise<Facts> {
  const rule = await ruleFor(db, change.repository, change.target);
  return {
    actor: {
      id: person.id,
      role: await roleOf(db, person.id, change.repository),
      machine: person.machine === 1,
    },
    rule,
    gate: await gateFactsFor(lens, db, change, rule),
  };
}

/** What the gate of a change set is evaluated with. Commits never change, so what they tell is asked of git once. */
export async function gateFactsFor(lens: Lens, db: Queries, change: ChangeSet, rule: Rule): Promise<GateFacts> {
  const folder = folderOf(lens, { id: change.repository });
  const { base, head } = newest(change);
  const files = await filesBetween(lens, folder, { from: base, to: head });
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
    behind: rule.upToDate ? await behind(lens, folder, change) : 0,
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

async function behind(lens: Lens, folder: string, change: ChangeSet): Promise<number> {
  const { head } = newest(change);
  const target = await branchCommit(folder, change.target);
  if (!target) return 0;
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
