import { sql } from "kysely";
import { done } from "@/core/plain/outcome";
import type { FoundThing } from "@/core/views/desk-view";
import { resolveCommit } from "@/git/repository";
import { loadChangeSets } from "@/store/log";
import type { Person } from "../../access/person";
import { folderOf, repositoriesOf } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import { changeOfCommit } from "../../changes/changes";
import { trackerOf } from "../../work/tracker-of";
import { peopleBeside } from "./people-beside";
import { matching } from "./words";

/** So many of each kind are told of. */
const MOST = 8;
/** In so many repositories a commit is looked for. */
const MOST_REPOSITORIES = 20;
const LONGEST = 160;

/** Whatever fits some words, of what somebody may see: the nearest to what was typed first, a few of each kind. */
export async function findAnything(app: AppContext, person: Person, words: string): Promise<FoundThing[]> {
  const seen = await repositoriesOf(app, person);
  if (seen.length === 0) return [];
  const sought = words.toLowerCase();
  const nameOf = new Map(seen.map(({ id, name }) => [id, name]));
  const repositories = seen
    .filter(({ name }) => name.includes(sought))
    .slice(0, MOST)
    .map(({ name }): FoundThing => ({ kind: "repository", title: name, where: "repository", address: `/r/${name}` }));
  const [changes, files, people, work, commits] = await Promise.all([
    changesAndThreads(app, nameOf, words),
    filesWith(app, nameOf, sought),
    peopleWith(app, person, sought),
    workWith(app, seen, words),
    commitsWith(app, person, seen, sought),
  ]);
  return [...commits, ...changes, ...files, ...repositories, ...people, ...work];
}

async function changesAndThreads(
  app: AppContext,
  nameOf: ReadonlyMap<string, string>,
  words: string,
): Promise<FoundThing[]> {
  const number = /^#?(\d{1,9})$/.exec(words)?.[1];
  const named = app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "in", [...nameOf.keys()])
    .where("number", "=", Number(number ?? -1))
    .limit(MOST);
  const said = app.db
    .selectFrom("change_sets")
    .innerJoin("change_words", "change_words.rowid", "change_sets.words")
    .select("change_sets.id")
    .where("change_sets.repository", "in", [...nameOf.keys()])
    .where(sql<boolean>`change_words match ${matching(words)}`)
    // What the title says counts for more than what somebody remarked.
    .orderBy(sql`bm25(change_words, 10.0, 3.0, 1.0)`)
    .limit(MOST);
  const ids = [...(await named.execute()), ...(await said.execute())].map(({ id }) => id);
  const changes = await loadChangeSets(app.db, [...new Set(ids)]);
  const result: FoundThing[] = [];
  const threads: FoundThing[] = [];
  const sought = words.toLowerCase();
  for (const change of changes) {
    const repository = nameOf.get(change.repository) ?? "";
    const address = `/r/${repository}/c/${change.number}`;
    const where = `${repository} ${change.number}, ${change.state}`;
    result.push({ kind: "change", title: change.title, where, address });
    for (const { id, comments } of change.threads) {
      const comment = comments.find(({ body, erased }) => !erased && body.toLowerCase().includes(sought));
      if (comment && threads.length < MOST)
        threads.push({
          kind: "thread",
          title: around(comment.body, sought),
          where: `in ${repository} ${change.number}, ${change.title}`,
          address: `${address}?thread=${id}`,
        });
    }
  }
  return [...result, ...threads];
}

/** The words of a remark around what was sought. */
function around(body: string, sought: string): string {
  const from = Math.max(0, body.toLowerCase().indexOf(sought) - 40);
  return `${from > 0 ? "… " : ""}${body.slice(from, from + LONGEST).replace(/\s+/g, " ")}`;
}

/** Files that change sets touch which go on, by a part of their paths: what changed last first, and each path once. */
async function filesWith(app: AppContext, nameOf: ReadonlyMap<string, string>, sought: string): Promise<FoundThing[]> {
  const rows = await app.db
    .selectFrom("change_sets")
    .innerJoin("change_paths", "change_paths.change_set", "change_sets.id")
    .select(["change_paths.path", "change_sets.repository", "change_sets.number", "change_sets.title"])
    .where("change_sets.repository", "in", [...nameOf.keys()])
    .where("change_sets.state", "in", ["open", "draft"])
    // Compared as text: nothing in it is a pattern.
    .where(sql<boolean>`instr(lower(change_paths.path), ${sought}) > 0`)
    .orderBy("change_sets.changed_at", "desc")
    .limit(4 * MOST)
    .execute();
  const found = new Map<string, FoundThing>();
  for (const { path, repository, number, title } of rows) {
    const name = nameOf.get(repository) ?? "";
    const address = `/r/${name}/c/${number}?${new URLSearchParams({ file: path })}`;
    const key = `${repository} ${path}`;
    if (found.size < MOST && !found.has(key))
      found.set(key, { kind: "file", title: path, where: `in ${name} ${number}, ${title}`, address });
  }
  return [...found.values()];
}

async function peopleWith(app: AppContext, person: Person, sought: string): Promise<FoundThing[]> {
  return (await peopleBeside(app, person))
    .filter(({ name, fullName }) => `${name} ${fullName}`.toLowerCase().includes(sought))
    .slice(0, MOST)
    .map(({ name, fullName }) => ({ kind: "person", title: fullName, where: name, address: `/people/${name}` }));
}

async function workWith(
  app: AppContext,
  seen: Awaited<ReturnType<typeof repositoriesOf>>,
  words: string,
): Promise<FoundThing[]> {
  const result: FoundThing[] = [];
  for (const { id, name } of seen) {
    const tracker = trackerOf(app, { id, name });
    // One that is elsewhere is not asked at every letter, for every repository.
    const found = tracker.elsewhere === null ? await tracker.find(words) : done([]);
    if (!found.ok) continue;
    for (const { item, title, state } of found.value.slice(0, MOST - result.length))
      result.push({ kind: "work", title, where: `work item ${item} of ${name}, ${state}`, address: `/r/${name}/work` });
  }
  return result;
}

/** The change sets that a commit is part of, by the first letters of its id. */
async function commitsWith(
  app: AppContext,
  person: Person,
  seen: Awaited<ReturnType<typeof repositoriesOf>>,
  sought: string,
): Promise<FoundThing[]> {
  if (!/^[0-9a-f]{7,64}$/.test(sought)) return [];
  const result: FoundThing[] = [];
  for (const { id, name } of seen.slice(0, MOST_REPOSITORIES)) {
    if (!(await resolveCommit(folderOf(app, { id }), sought))) continue;
    const found = await changeOfCommit(app, person, name, sought);
    if (!found.ok) continue;
    const { commit, number } = found.value;
    const where = `commit of change set ${number} in ${name}`;
    result.push({ kind: "commit", title: commit.slice(0, 12), where, address: `/r/${name}/commit/${commit}` });
  }
  return result;
}
