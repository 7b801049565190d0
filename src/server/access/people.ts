import * as v from "valibot";
import { fullName, newPassword, signInName } from "@/core/house/account";
import type { Signer } from "@/core/merge/message";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { Role } from "@/core/review/roles";
import type { GatePerson } from "@/core/rules/facts";
import { outside } from "@/git/outside";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import type { AppContext } from "../app/context";
import { PERSON, type Person, personOf } from "./person";

export interface NewPerson {
  name: string;
  fullName: string;
  email: string;
  password: string;
  administrator?: boolean;
  demo?: boolean;
  about?: string;
  /** A program's account. */
  machine?: boolean;
  /** The name of the person to whom a machine account belongs, and who answers for what it does. */
  owner?: string;
}

const ACCOUNT = v.object({ name: signInName, fullName, password: newPassword });

/**
 * Adds a person and gives their id. `also` is done with it or not at all. Refuses a name that is taken or could not be typed, and a password that is too
 * short.
 */
export async function addPerson(
  app: AppContext,
  person: NewPerson,
  also?: (tx: Queries, id: string) => Promise<void>,
): Promise<Outcome<string>> {
  const typed = v.safeParse(ACCOUNT, person);
  if (!typed.success) return refuse("invalid", typed.issues[0].message);
  const { name, fullName } = typed.output;
  const taken = await app.db.selectFrom("people").select("id").where("name", "=", name).executeTakeFirst();
  if (taken) return refuse("conflict", `The name “${name}” is taken.`);
  const owner = person.owner ? await ownerOf(app, person) : null;
  if (owner instanceof Object) return owner;
  const id = app.newId();
  const row = {
    id,
    name,
    full_name: fullName,
    email: person.email.trim(),
    password: await hashOf(person.password),
    administrator: person.administrator ? 1 : 0,
    demo: person.demo ? 1 : 0,
    about: person.about ?? "",
    machine: person.machine ? 1 : 0,
    owner,
    disabled_at: null,
    created_at: app.now(),
  };
  await app.db.transaction().execute(async (tx) => {
    await tx.insertInto("people").values(row).execute();
    await also?.(tx, id);
  });
  return done(id);
}

/** The id of whom a machine account is to belong to. */
async function ownerOf(app: AppContext, { machine, owner }: NewPerson): Promise<string | ReturnType<typeof refuse>> {
  if (!machine) return refuse("invalid", "Only machine accounts belong to someone.");
  const person = await findPerson(app.db, owner ?? "");
  if (!person || person.machine) return refuse("missing", `There is no person of the name “${owner}”.`);
  return person.id;
}

/** Sets a new password, and ends the person's sessions and tokens: whoever had the old one may have made some. */
export async function setPassword(app: AppContext, name: string, password: string): Promise<Outcome<null>> {
  const person = await findPerson(app.db, name);
  if (!person) return refuse("missing", `There is nobody of the name “${name}”.`);
  const typed = v.safeParse(newPassword, password);
  if (!typed.success) return refuse("invalid", typed.issues[0].message);
  await app.db
    .updateTable("people")
    .set({ password: await hashOf(password) })
    .where("id", "=", person.id)
    .execute();
  await app.db.deleteFrom("sessions").where("person", "=", person.id).execute();
  await app.db.deleteFrom("tokens").where("person", "=", person.id).execute();
  return done(null);
}

/** Whether name and password belong together. Takes as long for a name that does not exist. */
export async function checkPassword(app: AppContext, name: string, password: string): Promise<Person | null> {
  const row = await app.db
    .selectFrom("people")
    .select(PERSON)
    .select("people.password")
    .where("name", "=", name.trim().toLowerCase())
    .executeTakeFirst();
  const { verify } = await import("@node-rs/argon2");
  const right = await verify(row?.password ?? (await nobodysPassword()), password).catch(() => false);
  return row && right && row.disabled_at === null ? personOf(row) : null;
}

/** A password as it is kept. What hashes is loaded with the first: a command that knows nobody's password starts sooner. */
async function hashOf(password: string): Promise<string> {
  const { hash } = await import("@node-rs/argon2");
  return hash(password);
}

let nobody: Promise<string> | null = null;
function nobodysPassword(): Promise<string> {
  nobody ??= outside(() => hashOf("nobody’s password"));
  return nobody;
}

export async function findPerson(db: Queries, name: string): Promise<Person | null> {
  const row = await db.selectFrom("people").select(PERSON).where("name", "=", name).executeTakeFirst();
  return row ? personOf(row) : null;
}

/** Someone by their id; null for nobody. */
export async function personById(db: Queries, id: string | null | undefined): Promise<Person | null> {
  if (!id) return null;
  const row = await db.selectFrom("people").select(PERSON).where("id", "=", id).executeTakeFirst();
  return row ? personOf(row) : null;
}

/** Those whom the demo's sign-in page offers. Empty anywhere else. */
export async function demoPeople(app: AppContext): Promise<Person[]> {
  const rows = await app.db.selectFrom("people").select(PERSON).where("demo", "=", 1).orderBy("created_at").execute();
  return rows.map(personOf);
}

/** Whether there is anyone at all who could sign in. */
export async function anyPeople(app: AppContext): Promise<boolean> {
  return (await app.db.selectFrom("people").select("id").limit(1).executeTakeFirst()) !== undefined;
}

/** The role a person has in a repository, or null. Administrators are keepers everywhere. */
export function roleOf(db: Queries, person: string, repository: string): Promise<Role | null> {
  return madeOnce(db, `role of ${person} in ${repository}`, () => askedRole(db, person, repository));
}

async function askedRole(db: Queries, person: string, repository: string): Promise<Role | null> {
  const row = await db
    .selectFrom("people")
    .leftJoin("roles", (join) => join.onRef("roles.person", "=", "people.id").on("roles.repository", "=", repository))
    .leftJoin("repositories", (join) => join.on("repositories.id", "=", repository))
    .select(["people.administrator", "people.machine", "roles.role"])
    .select(["repositories.open_to_all", "repositories.archived_at"])
    .where("people.id", "=", person)
    .where("people.disabled_at", "is", null)
    .executeTakeFirst();
  if (!row) return null;
  return roleBy({
    administrator: row.administrator === 1,
    machine: row.machine === 1,
    role: row.role,
    openToAll: row.open_to_all === 1,
    archived: (row.archived_at ?? null) !== null,
  });
}

/**
 * The role that somebody has by what is known of them and of a repository: administrators are keepers everywhere, who signs in reads what is
 * open to all (machines do not: they are given what they need), and in an archived one everybody only reads.
 */
export function roleBy({
  administrator,
  machine,
  role,
  openToAll,
  archived,
}: {
  administrator: boolean;
  machine: boolean;
  role: Role | null;
  openToAll: boolean;
  archived: boolean;
}): Role | null {
  const mine = administrator ? "keeper" : (role ?? (openToAll && !machine ? "reader" : null));
  return mine !== null && archived ? "reader" : mine;
}

/** Whether someone may know of another: they keep the installation, or both have a role in some repository. */
export async function shareRepository(app: AppContext, viewer: Person, other: Person): Promise<boolean> {
  if (viewer.id === other.id || viewer.administrator) return true;
  const open = await app.db
    .selectFrom("repositories")
    .select("id")
    .where("open_to_all", "=", 1)
    .where("deleted_at", "is", null)
    .limit(1)
    .executeTakeFirst();
  if (open && !viewer.machine && !other.machine) return true;
  const mine = app.db.selectFrom("roles").select("repository").where("person", "=", viewer.id);
  if (other.administrator) return (await mine.limit(1).executeTakeFirst()) !== undefined;
  const shared = await app.db
    .selectFrom("roles")
    .select("repository")
    .where("person", "=", other.id)
    .where("repository", "in", mine)
    .limit(1)
    .executeTakeFirst();
  return shared !== undefined;
}

/** People as commits name them. */
export async function signersOf(db: Queries, ids: readonly string[]): Promise<Signer[]> {
  if (ids.length === 0) return [];
  const rows = await db.selectFrom("people").select(["id", "full_name", "email"]).where("id", "in", ids).execute();
  return rows.map(({ id, full_name, email }) => ({ id, name: full_name, email }));
}

/** Full names of everyone, by their ids; of who is somebody else elsewhere the name that they have here. */
export function namesOf(db: Queries): Promise<ReadonlyMap<string, string>> {
  return madeOnce(db, "full names", async () => {
    const rows = await db
      .selectFrom("people")
      .leftJoin("ledger_people", "ledger_people.person", "people.id")
      .leftJoin("people as here", "here.id", "ledger_people.joined")
      .select(["people.id", "people.full_name", "here.full_name as joined"])
      .execute();
    return new Map(rows.map(({ id, full_name, joined }) => [id, joined ?? full_name]));
  });
}

/** Everyone who may see a repository, by name. */
export function peopleIn(db: Queries, repository: string): Promise<GatePerson[]> {
  return madeOnce(db, `people in ${repository}`, () => askedPeople(db, repository));
}

async function askedPeople(db: Queries, repository: string): Promise<GatePerson[]> {
  const rows = await db
    .selectFrom("people")
    .leftJoin("roles", (join) => join.onRef("roles.person", "=", "people.id").on("roles.repository", "=", repository))
    .innerJoin("repositories", (join) => join.on("repositories.id", "=", repository))
    .select(["people.id", "people.name", "people.machine", "people.owner", "people.administrator", "roles.role"])
    .select(["repositories.open_to_all", "repositories.archived_at"])
    .where("people.disabled_at", "is", null)
    .orderBy("people.full_name")
    .execute();
  return rows.flatMap(({ id, name, owner, ...row }) => {
    const machine = row.machine === 1;
    const role = roleBy({
      administrator: row.administrator === 1,
      machine,
      role: row.role,
      openToAll: row.open_to_all === 1,
      archived: row.archived_at !== null,
    });
    return role ? [{ id, name, machine, owner, role }] : [];
  });
}

/** Gives a person a role in a repository; null takes it away. */
export async function setRole(
  app: AppContext,
  name: string,
  repositoryName: string,
  role: Role | null,
): Promise<Outcome<null>> {
  const person = await findPerson(app.db, name);
  if (!person) return refuse("missing", `There is nobody of the name “${name}”.`);
  const repository = await app.db
    .selectFrom("repositories")
    .select("id")
    .where("name", "=", repositoryName)
    .executeTakeFirst();
  if (!repository) return refuse("missing", `There is no repository of the name “${repositoryName}”.`);
  const key = { person: person.id, repository: repository.id };
  if (role === null) {
    await app.db
      .deleteFrom("own_roles")
      .where("person", "=", key.person)
      .where("repository", "=", key.repository)
      .execute();
  } else {
    await app.db
      .insertInto("own_roles")
      .values({ ...key, role })
      .onConflict((conflict) => conflict.columns(["person", "repository"]).doUpdateSet({ role }))
      .execute();
  }
  return done(null);
}
