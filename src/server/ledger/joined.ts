import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { audit, type Doer } from "../access/audit";
import { findPerson } from "../access/people";
import type { AppContext } from "../app/context";

/**
 * Says that somebody of another installation, by the name that their account has here, is a person of this one: from now on they are shown as that person. What they
 * say there counts at no gate here all the same. Without a person they are two again.
 */
export async function joinPeople(
  app: AppContext,
  elsewhere: string,
  name: string | null,
  doer: Doer,
): Promise<Outcome<null>> {
  const stranger = await findPerson(app.db, elsewhere);
  const known = stranger
    ? await app.db.selectFrom("ledger_people").select("person").where("person", "=", stranger.id).executeTakeFirst()
    : undefined;
  if (!known || !stranger) return refuse("missing", `Nobody of another installation is called “${elsewhere}” here.`);
  const person = name === null ? null : await findPerson(app.db, name);
  if (name !== null && !person) return refuse("missing", `There is no account “${name}”.`);
  if (person?.machine) return refuse("invalid", "A machine is nobody of another installation.");
  const isStranger = person
    ? await app.db.selectFrom("ledger_people").select("person").where("person", "=", person.id).executeTakeFirst()
    : undefined;
  if (isStranger) return refuse("invalid", `${name} is of another installation, too: name somebody of this one.`);
  await app.db
    .updateTable("ledger_people")
    .set({ joined: person?.id ?? null })
    .where("person", "=", stranger.id)
    .execute();
  await audit(app, doer, "people-joined", { elsewhere, person: name ?? "" });
  app.bell.ring();
  return done(null);
}
