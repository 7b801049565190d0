import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { listed } from "@/core/plain/words";
import type { GroupRequest, GroupView } from "@/core/views/setting-up-view";
import type { Queries } from "@/store/database";
import { audit, type Doer } from "../access/audit";
import type { AppContext } from "../app/context";

/** All groups, by name, each with its members and what they may do by it. */
export async function groupsOf({ db }: AppContext): Promise<GroupView[]> {
  const groups = await db.selectFrom("groups").select("name").orderBy("name").execute();
  const members = await db
    .selectFrom("group_members")
    .innerJoin("people", "people.id", "group_members.person")
    .select(["group_members.group", "people.name"])
    .orderBy("people.name")
    .execute();
  const roles = await db
    .selectFrom("group_roles")
    .innerJoin("repositories", "repositories.id", "group_roles.repository")
    .select(["group_roles.group", "group_roles.role", "repositories.name"])
    .orderBy("repositories.name")
    .execute();
  return groups.map(({ name }) => ({
    name,
    members: members.filter(({ group }) => group === name).map((one) => one.name),
    roles: roles.filter(({ group }) => group === name).map(({ name: repository, role }) => ({ repository, role })),
  }));
}

/** Makes a group, or says anew who is in it and what they may do by it. Refuses names of people and repositories that are not there. */
export async function keepGroup(
  app: AppContext,
  doer: Doer,
  { name, members, roles }: GroupRequest,
): Promise<Outcome<GroupView[]>> {
  const refusal = await app.db.transaction().execute(async (tx) => {
    const people = await idsOf(tx, "people", members);
    if (!people.ok) return people;
    const repositories = await idsOf(tx, "repositories", Object.keys(roles));
    if (!repositories.ok) return repositories;
    await tx
      .insertInto("groups")
      .values({ name, made_at: app.now() })
      .onConflict((conflict) => conflict.doNothing())
      .execute();
    await tx.deleteFrom("group_members").where("group", "=", name).execute();
    await tx.deleteFrom("group_roles").where("group", "=", name).execute();
    for (const person of people.value.values())
      await tx.insertInto("group_members").values({ group: name, person }).execute();
    for (const [repository, id] of repositories.value)
      await tx.insertInto("group_roles").values({ group: name, repository: id, role: roles[repository] }).execute();
    await audit(app, doer, "group-kept", { name, members: members.join(", "), roles: rolesWords(roles) }, tx);
    return null;
  });
  return refusal ?? done(await groupsOf(app));
}

/** Takes a group away: its members keep what they were given themselves. */
export async function dropGroup(app: AppContext, doer: Doer, name: string): Promise<Outcome<GroupView[]>> {
  const gone = await app.db.transaction().execute(async (tx) => {
    await tx.deleteFrom("group_members").where("group", "=", name).execute();
    await tx.deleteFrom("group_roles").where("group", "=", name).execute();
    return tx.deleteFrom("groups").where("name", "=", name).executeTakeFirst();
  });
  if (gone.numDeletedRows === 0n) return refuse("missing", `There is no group of the name “${name}”.`);
  await audit(app, doer, "group-dropped", { name });
  return done(await groupsOf(app));
}

function rolesWords(roles: GroupRequest["roles"]): string {
  return Object.entries(roles)
    .map(([repository, role]) => `${role} in ${repository}`)
    .join(", ");
}

/** The ids of what is named, by name. */
async function idsOf(
  tx: Queries,
  table: "people" | "repositories",
  names: readonly string[],
): Promise<Outcome<Map<string, string>>> {
  const rows =
    names.length === 0 ? [] : await tx.selectFrom(table).select(["id", "name"]).where("name", "in", names).execute();
  const ids = new Map(rows.map(({ name, id }) => [name, id]));
  const missing = names.filter((name) => !ids.has(name));
  if (missing.length === 0) return done(ids);
  return refuse(
    "missing",
    `${table === "people" ? "Nobody has the name" : "There is no repository"} ${listed(missing)}.`,
  );
}
