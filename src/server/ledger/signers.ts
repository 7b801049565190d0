import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { ReviewEvent } from "@/core/review/events";
import type { Role } from "@/core/review/roles";
import { personById } from "../access/people";
import type { Person } from "../access/person";
import { enter, nameOfRepository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { asPerson } from "./brought";

/** A key of somebody's clone: its public half (DER, in base64), and the id of whose it is here. */
export interface Signer {
  public: string;
  person: string;
}

/** Whose keys count here, by their ids. */
export async function signersHere(app: AppContext): Promise<Map<string, Signer>> {
  const rows = await app.db
    .selectFrom("clone_keys")
    .select(["key", "public", "person"])
    .where("revoked_at", "is", null)
    .execute();
  return new Map(rows.map(({ key, ...signer }) => [key, signer]));
}

/** Notes that what a key signed was taken in. */
export async function noteUsed(app: AppContext, signer: Signer): Promise<void> {
  await app.db.updateTable("clone_keys").set({ used_at: app.now() }).where("public", "=", signer.public).execute();
}

/** An entry that somebody signed in their clone, as of who they are here, and what they may do in the repository now; why it cannot be theirs. */
export async function signedHere(
  app: AppContext,
  repository: { id: string },
  event: ReviewEvent,
  signer: Signer,
): Promise<Outcome<{ person: Person; role: Role; here: ReviewEvent }>> {
  const person = await personById(app.db, signer.person);
  if (!person || person.disabledAt !== null)
    return refuse("forbidden", "whose key it is cannot do anything here any more.");
  const entered = await enter(app, person, await nameOfRepository(app.db, repository.id));
  if (!entered.ok) return entered;
  if (event.by !== person.id && (await personById(app.db, event.by)))
    return refuse("forbidden", "it names somebody of this installation, and another key signed it.");
  const taken = await app.db.selectFrom("events").select("id").where("id", "=", event.id).executeTakeFirst();
  if (taken) return refuse("conflict", "there is another entry under its id.");
  // In the clone they have another id; here they are who they are here, wherever the entry names them.
  return done({ person, role: entered.value.role, here: asPerson(event, person.id) });
}
