import * as v from "valibot";
import { topicOf, USUAL_WISHES, type Way, type Wishes, wayOf, wishes } from "@/core/doors/news/wishes";
import { matcher } from "@/core/pattern/pattern";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { ReviewEvent } from "@/core/review/events";
import { type ChangeSet, newest } from "@/core/review/state";
import type { Queries } from "@/store/database";
import { findPerson, roleOf, shareRepository } from "../access/people";
import type { Person } from "../access/person";
import { folderOf, nameOfRepository, repositoriesOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { filesBetween } from "../reading/files-between";

/** What somebody wants to hear. */
export async function wishesOf(db: Queries, person: string): Promise<Wishes> {
  const row = await db.selectFrom("wishes").select("wishes").where("person", "=", person).executeTakeFirst();
  return row ? read(row.wishes) : USUAL_WISHES;
}

/** What was kept by an older version is as usual where it does not fit any more. */
function read(json: string): Wishes {
  const parsed = v.safeParse(wishes, JSON.parse(json));
  return parsed.success ? parsed.output : USUAL_WISHES;
}

/** Keeps what somebody wants to hear; refuses to follow people and repositories that they may not see. */
export async function keepWishes(app: AppContext, person: Person, wanted: Wishes): Promise<Outcome<Wishes>> {
  for (const name of wanted.people) {
    const other = await findPerson(app.db, name);
    if (!other || !(await shareRepository(app, person, other)))
      return refuse("missing", `There is nobody of the name “${name}” that you may see.`);
  }
  const seen = new Set((await repositoriesOf(app, person)).map(({ name }) => name));
  const hidden = [...wanted.paths, ...wanted.less].find(({ repository }) => !seen.has(repository));
  if (hidden) return refuse("missing", `There is no repository “${hidden.repository}” that you may see.`);
  const row = { person: person.id, wishes: JSON.stringify(wanted) };
  await app.db
    .insertInto("wishes")
    .values(row)
    .onConflict((conflict) => conflict.column("person").doUpdateSet(row))
    .execute();
  return done(wanted);
}

/** By which way somebody wants to hear of an event in a repository; `followed` where they follow the change set only. */
export function wayFor(wishes: Wishes, event: ReviewEvent, repository: string, followed: boolean): Way {
  return wayOf(wishes, followed ? "followed" : topicOf(event.kind), repository);
}

/** What those who follow a path or a person hear of: that something is offered, and what became of it. */
const HEARD = new Set<ReviewEvent["kind"]>(["opened", "readied", "revised", "merged", "withdrawn"]);

/**
 * Those who follow the author of a change set or a path that it touches, and may see it. Asks git for its files: never call it in a
 * transaction.
 */
export async function followersOf(app: AppContext, change: ChangeSet, event: ReviewEvent): Promise<string[]> {
  if (!HEARD.has(event.kind) || change.state === "draft") return [];
  const rows = await app.db.selectFrom("wishes").selectAll().execute();
  const all = rows.map(({ person, wishes: json }) => ({ person, ...read(json) }));
  const following = all.filter(({ people, paths }) => people.length + paths.length > 0);
  if (following.length === 0) return [];
  const name = await nameOfRepository(app.db, change.repository);
  const author = await app.db.selectFrom("people").select("name").where("id", "=", change.author).executeTakeFirst();
  const revision = newest(change);
  const touched = following.some(({ paths }) => paths.some((one) => one.repository === name))
    ? await filesBetween(app, folderOf(app, { id: change.repository }), { from: revision.base, to: revision.head })
    : [];
  const found: string[] = [];
  for (const { person, people, paths } of following) {
    const isMeant =
      (author && people.includes(author.name)) ||
      paths.some(({ repository, pattern }) => {
        const fits = repository === name ? matcher(pattern) : null;
        return fits !== null && touched.some(({ path }) => fits(path));
      });
    if (!isMeant || person === event.by || person === change.author) continue;
    if ((await roleOf(app.db, person, change.repository)) !== null) found.push(person);
  }
  return found;
}
