import { randomBytes } from "node:crypto";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { Role } from "@/core/review/roles";
import type { InviteRequest, InviteView, OwnAccountRequest } from "@/core/views/setting-up-view";
import type { AppContext } from "../app/context";
import { audit, type Doer } from "./audit";
import { addPerson } from "./people";
import { hashOf } from "./secret";
import { beginSession, type Whence } from "./sessions";

const DAY = 24 * 3_600_000;
/** So many invitations can wait at a time. */
const MOST = 200;

/** Makes an invitation and gives its word, which is told this once: only its hash is kept. */
export async function invite(
  app: AppContext,
  doer: Doer,
  { label, roles, days }: InviteRequest,
): Promise<Outcome<string>> {
  const repositories = await app.db
    .selectFrom("repositories")
    .select(["id", "name"])
    .where("deleted_at", "is", null)
    .execute();
  const given: Record<string, Role> = {};
  for (const [name, role] of Object.entries(roles)) {
    const repository = repositories.find((one) => one.name === name);
    if (!repository) return refuse("missing", `There is no repository of the name “${name}”.`);
    given[repository.id] = role;
  }
  if ((await invites(app)).length >= MOST)
    return refuse("conflict", `${MOST} invitations wait already: take some back first.`);
  const word = randomBytes(18).toString("base64url");
  const now = app.now();
  await app.db
    .insertInto("invites")
    .values({
      id: app.newId(),
      word_hash: hashOf(word),
      label,
      roles: JSON.stringify(given),
      used_by: null,
      made_by: doer.person ?? "",
      made_at: now,
      expires_at: now + days * DAY,
    })
    .execute();
  await audit(app, doer, "invite-made", { label, repositories: Object.keys(roles).join(" ") });
  return done(word);
}

/** Those that nobody has come by and that still count, the newest first. */
export async function invites(app: AppContext): Promise<InviteView[]> {
  const rows = await app.db
    .selectFrom("invites")
    .leftJoin("people", "people.id", "invites.made_by")
    .selectAll("invites")
    .select("people.full_name")
    .where("used_by", "is", null)
    .where("expires_at", ">", app.now())
    .orderBy("invites.id", "desc")
    .execute();
  const names = new Map(
    (await app.db.selectFrom("repositories").select(["id", "name"]).execute()).map(({ id, name }) => [id, name]),
  );
  return rows.map(({ id, label, roles, made_at, expires_at, full_name }) => ({
    id,
    label,
    madeBy: full_name ?? "the command line",
    madeAt: made_at,
    expiresAt: expires_at,
    roles: rolesIn(roles).flatMap(([repository, role]) => {
      const name = names.get(repository);
      return name === undefined ? [] : [{ repository: name, role }];
    }),
  }));
}

export async function dropInvite(app: AppContext, doer: Doer, id: string): Promise<Outcome<null>> {
  const { numDeletedRows } = await app.db
    .deleteFrom("invites")
    .where("id", "=", id)
    .where("used_by", "is", null)
    .executeTakeFirst();
  if (numDeletedRows === 0n) return refuse("missing", "There is no such invitation, or somebody has come by it.");
  await audit(app, doer, "invite-dropped", { id });
  return done(null);
}

/** Makes an account for who has the word of an invitation, with the roles that come with it; gives the value for the cookie of their session. */
export function join(
  app: AppContext,
  { word, ...account }: OwnAccountRequest,
  whence: Whence,
): Promise<Outcome<string>> {
  // In turn, so that one invitation makes one account.
  return app.inTurn("invites", async () => {
    const row = await app.db
      .selectFrom("invites")
      .selectAll()
      .where("word_hash", "=", hashOf(word))
      .where("used_by", "is", null)
      .where("expires_at", ">", app.now())
      .executeTakeFirst();
    if (!row)
      return refuse("forbidden", "This invitation does not count: it was used, has run out, or was taken back.");
    const doer = (person: string) => ({ person, address: whence.address });
    const added = await addPerson(app, account, async (tx, person) => {
      await tx.updateTable("invites").set({ used_by: person }).where("id", "=", row.id).execute();
      const there = await tx.selectFrom("repositories").select("id").where("deleted_at", "is", null).execute();
      for (const [repository, role] of rolesIn(row.roles))
        if (there.some(({ id }) => id === repository))
          await tx.insertInto("own_roles").values({ person, repository, role }).execute();
      await audit(app, doer(person), "invite-taken", { name: account.name, label: row.label }, tx);
    });
    if (!added.ok) return added;
    return done(await beginSession(app, added.value, whence));
  });
}

function rolesIn(json: string): [string, Role][] {
  return Object.entries(JSON.parse(json) as Record<string, Role>);
}
