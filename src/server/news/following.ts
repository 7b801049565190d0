import type { ChangeSet } from "@/core/review/state";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";

/** Whether someone wants mail about a change set; they do until they say otherwise. */
export async function follows(app: AppContext, person: Person, change: ChangeSet): Promise<boolean> {
  const row = await app.db
    .selectFrom("unfollowed")
    .select("person")
    .where("change_set", "=", change.id)
    .where("person", "=", person.id)
    .executeTakeFirst();
  return row === undefined;
}

export async function setFollowing(app: AppContext, person: Person, change: ChangeSet, follow: boolean): Promise<void> {
  const key = { change_set: change.id, person: person.id };
  if (follow) {
    await app.db
      .deleteFrom("unfollowed")
      .where("change_set", "=", key.change_set)
      .where("person", "=", key.person)
      .execute();
  } else {
    await app.db
      .insertInto("unfollowed")
      .values(key)
      .onConflict((conflict) => conflict.doNothing())
      .execute();
  }
}
