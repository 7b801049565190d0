import { visible } from "@/core/cautions/visible";
import { wrongFromElsewhere } from "@/core/review/elsewhere";
import type { ReviewEvent } from "@/core/review/events";
import type { Queries } from "@/store/database";
import type { LedgerPerson } from "./brought";

/** People of other installations, whom their entries name, and the keys that speak for them. */

/** The server that entries come from, where they do not come from clones: its people have no role here, and each of the two decides on what began with it. */
export interface Elsewhere {
  name: string;
}

/** Where entries are taken in. */
export interface Place {
  repository: string;
  now: number;
  elsewhere?: Elsewhere;
}

/** Whether a change set is of somebody of another installation: what is decided of it is decided there. */
export async function beganElsewhere(db: Queries, { author }: { author: string }): Promise<boolean> {
  const row = await db.selectFrom("people").select("email").where("id", "=", author).executeTakeFirst();
  return row?.email.endsWith(ELSEWHERE) ?? false;
}

/** Why an entry of another server is not let in; null where it is. */
export async function wrongOfNeighbour(tx: Queries, event: ReviewEvent, here: boolean): Promise<string | null> {
  const wrong = wrongFromElsewhere(event, here);
  if (wrong !== null || event.kind !== "opened") return wrong;
  const { author = event.by } = event.data;
  if (author === event.by) return null;
  const row = await tx.selectFrom("people").select("email").where("id", "=", author).executeTakeFirst();
  return row?.email.endsWith(ELSEWHERE) ? null : "its author is nobody whom that server speaks for";
}

/**
 * Why a key does not speak for somebody; null where it does. People of this installation are spoken for by its own key alone; of others the key that
 * spoke for them first: `bound` has those of whom this is to be the first, by their ids, and is added to.
 */
export async function wrongSpeaker(
  db: Queries,
  id: string,
  key: string,
  own: string,
  people: ReadonlyMap<string, LedgerPerson>,
  bound: Map<string, string>,
): Promise<string | null> {
  const row = await db.selectFrom("ledger_people").select("key").where("person", "=", id).executeTakeFirst();
  const speaks = row?.key ?? bound.get(id);
  if (speaks !== undefined) return speaks === key ? null : "another key speaks for whom it names";
  const here = await db.selectFrom("people").select("email").where("id", "=", id).executeTakeFirst();
  if (here && !here.email.endsWith(ELSEWHERE))
    return key === own ? null : "it names somebody of this installation, and another key signed it";
  if (people.get(id)?.id !== id) return "nobody says who it names";
  bound.set(id, key);
  return null;
}

/** From now on this key speaks for somebody of whom nothing was here yet. */
export async function bind(
  tx: Queries,
  id: string,
  key: string,
  people: ReadonlyMap<string, LedgerPerson>,
  place: Place,
): Promise<void> {
  const named = people.get(id)!;
  await addLedgerPerson(tx, named, place);
  await tx.insertInto("ledger_people").values({ person: id, key, joined: null }).execute();
  // Two may call themselves the same: the key tells them apart, or the server.
  const where = place.elsewhere ? ` at ${place.elsewhere.name}` : ` (${key.slice(0, 8)})`;
  const fullName = `${visible(named.fullName).slice(0, 200)}${where}`;
  await tx.updateTable("people").set({ full_name: fullName }).where("id", "=", id).execute();
}

/** What no password has as its hash. */
const NO_PASSWORD = "none";
/** People of other installations have no mail address here. */
const ELSEWHERE = "@elsewhere.invalid";

/** Somebody of another installation: they cannot sign in here, and take part in the repository by what they sign. */
export async function addLedgerPerson(
  tx: Queries,
  { id, name, fullName }: LedgerPerson,
  { repository, now, elsewhere }: Place,
) {
  if (!/^[0-9A-HJKMNP-TV-Z]{26}$/.test(id)) return;
  const known = await tx.selectFrom("people").select("email").where("id", "=", id).executeTakeFirst();
  // What those may do who belong here is not for a ledger to say.
  if (known && !known.email.endsWith(ELSEWHERE)) return;
  if (!known) {
    const plain =
      name
        .toLowerCase()
        .replace(/[^a-z0-9.-]+/g, "-")
        .slice(0, 40) || "someone";
    let free = plain;
    for (let n = 2; await tx.selectFrom("people").select("id").where("name", "=", free).executeTakeFirst(); n++)
      free = `${plain}-${n}`;
    await tx
      .insertInto("people")
      .values({
        id,
        name: free,
        full_name: `${visible(fullName).slice(0, 200)} (elsewhere)`,
        email: `${id.toLowerCase()}${ELSEWHERE}`,
        password: NO_PASSWORD,
        administrator: 0,
        demo: 0,
        about: "",
        machine: 0,
        owner: null,
        created_at: now,
        disabled_at: null,
      })
      .execute();
  }
  if (elsewhere) return;
  await tx
    .insertInto("own_roles")
    .values({ person: id, repository, role: "contributor" })
    .onConflict((conflict) => conflict.doNothing())
    .execute();
}
