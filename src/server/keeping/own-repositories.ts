import { matcher } from "@/core/pattern/pattern";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { audit, type Doer } from "../access/audit";
import { setRole } from "../access/people";
import type { Person } from "../access/person";
import { addRepository } from "../access/repositories";
import type { AppContext } from "../app/context";

/**
 * Which names a person may give to repositories that they make, as a pattern; null where they make none. The rule of the installation
 * (`LENS_KEEPERS_MAKE`) is for people who keep a repository already, by themselves or by a group; whoever keeps the installation may give any.
 */
export async function namesToMake(app: AppContext, person: Person): Promise<string | null> {
  // Served alone, there is the clone that it was started in, and no other.
  if (app.settings.alone) return null;
  if (person.administrator) return "*";
  if (app.settings.keepersMake === null || person.machine) return null;
  const keeps = await app.db
    .selectFrom("roles")
    .innerJoin("repositories", "repositories.id", "roles.repository")
    .select("roles.role")
    .where("roles.person", "=", person.id)
    .where("roles.role", "=", "keeper")
    .where("repositories.deleted_at", "is", null)
    .executeTakeFirst();
  return keeps ? app.settings.keepersMake : null;
}

/** Makes an empty repository, to be pushed to, whose keeper is who asked. Anything that is fetched or read from the server is for administrators. */
export async function makeOwn(
  app: AppContext,
  person: Person,
  doer: Doer,
  { name }: { name: string },
): Promise<Outcome<{ name: string }>> {
  const names = await namesToMake(app, person);
  if (names === null)
    return refuse("forbidden", "Repositories are made here by those who keep the installation: ask one of them.");
  // A name that does not fit is refused first, so that nobody learns by it which others are taken.
  if (!matcher(names)(name))
    return refuse("forbidden", `A repository that you make has a name such as “${names}”, which “${name}” is not.`);
  const added = await addRepository(app, name, { kind: "nothing", branch: "main" });
  if (!added.ok) return added;
  const own = await setRole(app, person.name, name, "keeper");
  if (!own.ok) return own;
  await audit(app, doer, "repository-added", { repository: name });
  return done({ name });
}
