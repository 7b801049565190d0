import { randomBytes } from "node:crypto";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { DeliveryView, HookRequest, HookView } from "@/core/views/hooks-view";
import { audit, type Doer } from "../access/audit";
import type { Person } from "../access/person";
import { enter } from "../access/repositories";
import type { AppContext } from "../app/context";
import { hookAddress } from "./allowed-address";

/** A repository by its name; null for all of them, which those look after who keep the installation. */
export type HooksOf = string | null;

/** So many a repository can have, and so many messages of one are shown. */
const MOST = 20;
const SHOWN = 100;

/** The id of the repository whose webhooks somebody may look after: its keepers; null for those of all, for administrators. */
async function kept(app: AppContext, person: Person, of: HooksOf): Promise<Outcome<string | null>> {
  if (of === null)
    return person.administrator ? done(null) : refuse("missing", "There is nothing here that you may see.");
  const entered = await enter(app, person, of, "keeper");
  return entered.ok ? done(entered.value.repository.id) : entered;
}

/** `is` for none in particular. */
const isOf = (repository: string | null) => (repository === null ? "is" : "=");

export async function hooksOf(app: AppContext, person: Person, of: HooksOf): Promise<Outcome<HookView[]>> {
  const repository = await kept(app, person, of);
  if (!repository.ok) return repository;
  const rows = await app.db
    .selectFrom("hooks")
    .selectAll()
    .select((eb) =>
      eb
        .selectFrom("deliveries")
        .whereRef("hook", "=", "hooks.id")
        .where("due_at", "is not", null)
        .select(({ fn }) => fn.countAll<number>().as("many"))
        .as("waiting"),
    )
    .where("repository", isOf(repository.value), repository.value)
    .orderBy("id")
    .execute();
  return done(
    rows.map(({ id, url, kinds, made_at, waiting }) => ({
      id,
      url,
      kinds: JSON.parse(kinds) as string[],
      madeAt: made_at,
      waiting: waiting ?? 0,
    })),
  );
}

/** Makes a webhook and gives the secret that its messages are signed with, which is told this once. */
export async function makeHook(
  app: AppContext,
  person: Person,
  doer: Doer,
  of: HooksOf,
  { url, kinds }: HookRequest,
): Promise<Outcome<{ secret: string; hooks: HookView[] }>> {
  const repository = await kept(app, person, of);
  if (!repository.ok) return repository;
  const address = hookAddress(url);
  if (!address.ok) return address;
  const known = await hooksOf(app, person, of);
  if (!known.ok) return known;
  if (known.value.length >= MOST) return refuse("conflict", `There are ${MOST} webhooks at most.`);
  const secret = `whsec_${randomBytes(24).toString("base64")}`;
  await app.db
    .insertInto("hooks")
    .values({
      id: app.newId(),
      repository: repository.value,
      url: address.value.href,
      secret,
      kinds: JSON.stringify(kinds),
      made_at: app.now(),
    })
    .execute();
  await audit(app, doer, "hook-made", { repository: of ?? "", url: address.value.origin });
  const hooks = await hooksOf(app, person, of);
  return hooks.ok ? done({ secret, hooks: hooks.value }) : hooks;
}

/** Takes a webhook away, with what waits to be delivered to it. */
export async function dropHook(
  app: AppContext,
  person: Person,
  doer: Doer,
  of: HooksOf,
  id: string,
): Promise<Outcome<null>> {
  const found = await hookIn(app, person, of, id);
  if (!found.ok) return found;
  await app.db.transaction().execute(async (tx) => {
    await tx.deleteFrom("deliveries").where("hook", "=", id).execute();
    await tx.deleteFrom("hooks").where("id", "=", id).execute();
    await audit(app, doer, "hook-dropped", { repository: of ?? "" }, tx);
  });
  return done(null);
}

async function hookIn(app: AppContext, person: Person, of: HooksOf, id: string): Promise<Outcome<{ id: string }>> {
  const repository = await kept(app, person, of);
  if (!repository.ok) return repository;
  const row = await app.db
    .selectFrom("hooks")
    .select("id")
    .where("id", "=", id)
    .where("repository", isOf(repository.value), repository.value)
    .executeTakeFirst();
  return row ? done(row) : refuse("missing", "There is no such webhook.");
}

/** The last messages of a webhook, the newest first. */
export async function deliveriesOf(
  app: AppContext,
  person: Person,
  of: HooksOf,
  id: string,
): Promise<Outcome<DeliveryView[]>> {
  const found = await hookIn(app, person, of, id);
  if (!found.ok) return found;
  const rows = await app.db
    .selectFrom("deliveries")
    .select(["id", "kind", "at", "tries", "due_at", "done_at", "answer"])
    .where("hook", "=", id)
    .orderBy("id", "desc")
    .limit(SHOWN)
    .execute();
  return done(
    rows.map(({ due_at, done_at, ...row }) => ({
      ...row,
      doneAt: done_at,
      givenUp: due_at === null && done_at === null,
    })),
  );
}

/** Sends a message again, whatever became of it: with the same id, so that a receiver knows it. */
export async function sendAgain(
  app: AppContext,
  person: Person,
  of: HooksOf,
  id: string,
  delivery: string,
): Promise<Outcome<null>> {
  const found = await hookIn(app, person, of, id);
  if (!found.ok) return found;
  const { numUpdatedRows } = await app.db
    .updateTable("deliveries")
    .set({ due_at: app.now(), done_at: null, tries: 0 })
    .where("id", "=", delivery)
    .where("hook", "=", id)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) return refuse("missing", "There is no such message.");
  app.bell.ring();
  return done(null);
}
