import type { Person } from "../../access/person";
import { repositoriesOf } from "../../access/repositories";
import type { AppContext } from "../../app/context";

const MOST = 500;

/** The people who have a role in one of the repositories that somebody sees. */
export async function peopleBeside(
  app: AppContext,
  person: Person,
): Promise<{ id: string; name: string; fullName: string }[]> {
  const ids = (await repositoriesOf(app, person)).map(({ id }) => id);
  if (ids.length === 0) return [];
  const rows = await app.db
    .selectFrom("people")
    .innerJoin("roles", "roles.person", "people.id")
    .where("roles.repository", "in", ids)
    .select(["people.id", "people.name", "people.full_name"])
    .distinct()
    .orderBy("people.name")
    .limit(MOST)
    .execute();
  return rows.map(({ id, name, full_name }) => ({ id, name, fullName: full_name }));
}
