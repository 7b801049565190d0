import { addTo } from "@/core/plain/grouped";
import { wrongName } from "@/core/plain/names";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { AccountRequest, AccountView, TokenRequest, TokenView } from "@/core/views/access-view";
import { audit, type Doer } from "../access/audit";
import { addPerson, findPerson, type NewPerson, setPassword, setRole } from "../access/people";
import { PERSON, type Person } from "../access/person";
import { dropSecondStep, secondStepOf } from "../access/signing-in/second-step";
import { allTokens, makeToken } from "../access/tokens";
import type { AppContext } from "../app/context";

/** Everyone who has an account, by name, with their roles. */
export async function accounts(app: AppContext): Promise<AccountView[]> {
  const people = await app.db
    .selectFrom("people")
    .leftJoin("people as owners", "owners.id", "people.owner")
    .select(PERSON)
    .select("owners.name as ownerName")
    .orderBy("people.name")
    .execute();
  const roles = await app.db
    .selectFrom("own_roles")
    .innerJoin("repositories", "repositories.id", "own_roles.repository")
    .select(["own_roles.person", "own_roles.role", "repositories.name"])
    .orderBy("repositories.name")
    .execute();
  const groups = await app.db.selectFrom("group_members").selectAll().orderBy("group").execute();
  const used = await app.db
    .selectFrom("sessions")
    .select((select) => ["person", select.fn.max("used_at").as("at")])
    .groupBy("person")
    .execute();
  const lastUsed = new Map(used.map(({ person, at }) => [person, at]));
  const tokens = new Map<string, TokenView[]>();
  for (const { person, ...token } of await allTokens(app)) addTo(tokens, person, token);
  const steps = await app.db.selectFrom("second_steps").select("person").where("on_since", "is not", null).execute();
  const secondStep = new Set(steps.map(({ person }) => person));
  return people.map(({ id, name, full_name, email, administrator, machine, disabled_at, ownerName }) => ({
    name,
    fullName: full_name,
    email,
    administrator: administrator === 1,
    machine: machine === 1,
    disabledAt: disabled_at,
    owner: ownerName,
    seenAt: lastUsed.get(id) ?? null,
    secondStep: secondStep.has(id),
    tokens: tokens.get(id) ?? [],
    groups: groups.filter(({ person }) => person === id).map(({ group }) => group),
    roles: roles.filter(({ person }) => person === id).map(({ role, name: repository }) => ({ role, repository })),
  }));
}

/** Adds someone, and writes that down. */
export async function addAccount(app: AppContext, doer: Doer, person: NewPerson): Promise<Outcome<string>> {
  const added = await addPerson(app, person);
  if (added.ok) await audit(app, doer, "person-added", { name: person.name, machine: person.machine ?? false });
  return added;
}

/** Makes a token for a machine account, which cannot sign in to make its own. People make theirs themselves: nobody acts in their name. */
export async function makeMachineToken(
  app: AppContext,
  doer: Doer,
  name: string,
  request: TokenRequest,
): Promise<Outcome<string>> {
  const person = await findPerson(app.db, name);
  if (!person) return refuse("missing", `There is nobody of the name “${name}”.`);
  if (!person.machine) return refuse("forbidden", `${name} is a person: they make their tokens themselves.`);
  return makeToken(app, name, request, doer);
}

/** Carries out what is asked of an account, and writes it down. */
export async function changeAccount(
  app: AppContext,
  doer: Doer,
  name: string,
  request: AccountRequest,
): Promise<Outcome<null>> {
  const person = await findPerson(app.db, name);
  if (!person) return refuse("missing", `There is nobody of the name “${name}”.`);
  switch (request.kind) {
    case "disable":
      return disable(app, doer, person);
    case "enable":
      if (person.disabledAt === null) return refuse("conflict", `${name} is not disabled.`);
      await app.db.updateTable("people").set({ disabled_at: null }).where("id", "=", person.id).execute();
      await audit(app, doer, "person-enabled", { name });
      return done(null);
    case "drop-second-step":
      if ((await secondStepOf(app, person)).onSince === null)
        return refuse("conflict", `No second step is asked of ${name}.`);
      await dropSecondStep(app, person, doer);
      return done(null);
    case "describe":
      return describe(app, doer, person, request);
    case "administrator":
      return setAdministrator(app, doer, person, request.on);
    case "password": {
      const set = await setPassword(app, name, request.password);
      if (set.ok) await audit(app, doer, "password-set", { name });
      return set;
    }
    case "role": {
      const set = await setRole(app, name, request.repository, request.role);
      if (set.ok) await audit(app, doer, "role-set", { name, repository: request.repository, role: request.role });
      return set;
    }
  }
}

/** They cannot sign in nor do anything from now on; sessions and tokens end, and what they said stays. */
async function disable(app: AppContext, doer: Doer, person: Person): Promise<Outcome<null>> {
  if (person.disabledAt !== null) return refuse("conflict", `${person.name} is disabled already.`);
  const last = await lastAdministrator(app, person);
  if (last) return last;
  await app.db.transaction().execute(async (tx) => {
    await tx.updateTable("people").set({ disabled_at: app.now() }).where("id", "=", person.id).execute();
    await tx.deleteFrom("sessions").where("person", "=", person.id).execute();
    await tx.deleteFrom("tokens").where("person", "=", person.id).execute();
    await audit(app, doer, "person-disabled", { name: person.name }, tx);
  });
  return done(null);
}

async function describe(
  app: AppContext,
  doer: Doer,
  person: Person,
  { fullName, email }: Extract<AccountRequest, { kind: "describe" }>,
): Promise<Outcome<null>> {
  const wrong = wrongName(fullName);
  if (wrong) return refuse("invalid", wrong);
  const set = { full_name: fullName.trim(), email: email.trim() };
  await app.db.updateTable("people").set(set).where("id", "=", person.id).execute();
  await audit(app, doer, "person-changed", { name: person.name, fullName: set.full_name, email: set.email });
  return done(null);
}

async function setAdministrator(app: AppContext, doer: Doer, person: Person, on: boolean): Promise<Outcome<null>> {
  if (person.machine && on) return refuse("invalid", "A machine account cannot be an administrator.");
  if (person.administrator === on)
    return refuse("conflict", on ? `${person.name} is an administrator already.` : `${person.name} is none.`);
  const last = on ? null : await lastAdministrator(app, person);
  if (last) return last;
  await app.db
    .updateTable("people")
    .set({ administrator: on ? 1 : 0 })
    .where("id", "=", person.id)
    .execute();
  await audit(app, doer, "administrator-set", { name: person.name, on });
  return done(null);
}

/** Refuses what would leave nobody who could undo it. */
async function lastAdministrator(app: AppContext, person: Person): Promise<ReturnType<typeof refuse> | null> {
  if (!person.administrator) return null;
  const other = await app.db
    .selectFrom("people")
    .select("id")
    .where("administrator", "=", 1)
    .where("disabled_at", "is", null)
    .where("id", "!=", person.id)
    .limit(1)
    .executeTakeFirst();
  return other ? null : refuse("conflict", `${person.name} is the only administrator: make another one first.`);
}
