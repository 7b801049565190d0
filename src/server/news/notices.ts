import type { ReviewEvent } from "@/core/review/events";
import { kindOf } from "@/core/review/evolve";
import { type ChangeSet, isAsked, peopleOf } from "@/core/review/state";
import type { Notice, NoticesView } from "@/core/views/desk-view";
import { eventsByIds, loadChangeSet, loadChangeSets } from "@/store/log";
import { namesOf } from "../access/people";
import type { Person } from "../access/person";
import { nameOfRepository, repositoriesOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { FollowsLog } from "../app/follows-log";
import { toldOf } from "./told";
import { followersOf, wayFor, wishesOf } from "./wishes";

const EVERY = 5_000;
/** So many are listed, the newest. */
const MOST = 200;

/** Follows the log and notes whom each entry concerns. What it says is made of the log when it is read. */
export class Notices extends FollowsLog {
  constructor(app: AppContext) {
    super(app, { name: "notices", every: EVERY, failing: "it could not be noted whom something concerns" });
  }

  protected override async handle(event: ReviewEvent): Promise<void> {
    const { db } = this.app;
    const change = await loadChangeSet(db, event.stream);
    if (!change) return;
    const concerned = await toldOf(db, change, event);
    const followed = (await followersOf(this.app, change, event)).filter((person) => !concerned.includes(person));
    const repository = await nameOfRepository(db, change.repository);
    const told: string[] = [];
    for (const person of [...concerned, ...followed])
      if (wayFor(await wishesOf(db, person), event, repository, followed.includes(person)) !== "neither")
        told.push(person);
    if (told.length === 0) return;
    await db
      .insertInto("notices")
      .values(told.map((person) => ({ person, event: event.id, change_set: event.stream, read_at: null })))
      .onConflict((conflict) => conflict.doNothing())
      .execute();
  }
}

/** What happened that concerns somebody, by change set, the one in which something happened last first; of what they may still see. */
export async function noticesOf(app: AppContext, person: Person): Promise<NoticesView> {
  const { db } = app;
  const rows = await db
    .selectFrom("notices")
    .selectAll()
    .where("person", "=", person.id)
    .orderBy("event", "desc")
    .limit(MOST)
    .execute();
  const seen = new Map((await repositoriesOf(app, person)).map(({ id, name }) => [id, name]));
  const changes = new Map(
    (await loadChangeSets(db, [...new Set(rows.map((row) => row.change_set))])).map((change) => [change.id, change]),
  );
  const events = new Map(
    (
      await eventsByIds(
        db,
        rows.map((row) => row.event),
      )
    ).map((event) => [event.id, event]),
  );
  const names = await namesOf(db);
  const name = (id: string) => names.get(id) ?? "someone";
  const groups = new Map<string, NoticesView["groups"][number]>();
  for (const { event: id, change_set, read_at } of rows) {
    const [event, change] = [events.get(id), changes.get(change_set)];
    const repository = change && seen.get(change.repository);
    if (!event || !repository) continue;
    const notice: Notice = {
      event: id,
      at: event.at,
      by: name(event.by),
      unread: read_at === null,
      says: kindOf(event).says(event, { change, address: "", name }),
      why: whyOf(change, event, person),
    };
    const group = groups.get(change_set);
    const { number, title, state } = change;
    if (group) group.notices.push(notice);
    else groups.set(change_set, { repository, number, title, state, notices: [notice] });
  }
  return { groups: [...groups.values()], more: rows.length === MOST };
}

/** Why somebody is told of something. */
function whyOf(change: ChangeSet, event: ReviewEvent, person: Person): string {
  if (event.kind === "asked" || event.kind === "asked-again") return "You were asked.";
  if (change.author === person.id) return "It is your change set.";
  const asked = isAsked(change, person.id);
  if (asked) return "You were asked to review it.";
  if (peopleOf(change).has(person.id)) return "You take part in it.";
  if (change.mergeFailed?.asker === person.id) return "You asked that it be merged.";
  return "You follow its author, or a path in it.";
}

/** How many somebody has not read. */
export async function countUnread(app: AppContext, person: Person): Promise<number> {
  const ids = (await repositoriesOf(app, person)).map(({ id }) => id);
  const { count } = await app.db
    .selectFrom("notices")
    .innerJoin("change_sets", "change_sets.id", "notices.change_set")
    .where("change_sets.repository", "in", ids.length > 0 ? ids : [""])
    .where("person", "=", person.id)
    .where("read_at", "is", null)
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .executeTakeFirstOrThrow();
  return count;
}

/** Says that somebody has read some of their notices, or not. */
export async function markNotices(
  app: AppContext,
  person: Person,
  which: { events: readonly string[] } | { change: string },
  read: boolean,
): Promise<void> {
  await app.db
    .updateTable("notices")
    .set({ read_at: read ? app.now() : null })
    .where("person", "=", person.id)
    .$if("change" in which, (update) => update.where("change_set", "=", "change" in which ? which.change : ""))
    .$if("events" in which, (update) => update.where("event", "in", "events" in which ? which.events : []))
    .execute();
}
