import { toldTo } from "@/core/doors/mail/message";
import type { ReviewEvent } from "@/core/review/events";
import type { ChangeSet } from "@/core/review/state";
import type { Queries } from "@/store/database";
import { peopleIn, roleOf } from "../access/people";

/** Whom an event is told to: people who may read the change set and have not said that they want to hear no more of it. */
export async function toldOf(db: Queries, change: ChangeSet, event: ReviewEvent): Promise<string[]> {
  const people = (await peopleIn(db, change.repository)).filter(({ machine }) => !machine);
  const ofRole = (role: string) =>
    people.filter((person) => person.role === "keeper" || person.role === role).map(({ id }) => id);
  const told = toldTo(change, event, ofRole);
  if (told.length === 0) return [];
  const silent = await db
    .selectFrom("unfollowed")
    .select("person")
    .where("change_set", "=", change.id)
    .where("person", "in", told)
    .execute();
  const machines = await db
    .selectFrom("people")
    .select("id")
    .where("machine", "=", 1)
    .where("id", "in", told)
    .execute();
  const skip = new Set([...silent.map(({ person }) => person), ...machines.map(({ id }) => id)]);
  // Having taken part gives nobody the right to go on reading.
  for (const person of told) if ((await roleOf(db, person, change.repository)) === null) skip.add(person);
  return told.filter((person) => !skip.has(person));
}
