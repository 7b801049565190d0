import { randomBytes } from "node:crypto";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { PasswordRequest, SessionView } from "@/core/views/access-view";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import type { AppContext } from "../app/context";
import { audit } from "./audit";
import { checkPassword, setPassword } from "./people";
import { PERSON, type Person, personOf } from "./person";
import { hashOf } from "./secret";
import { limitsOf } from "./signing-in/guessing";
import { secondStepOf, takesStep } from "./signing-in/second-step";

export const COOKIE = "lens_session";
const DAYS = 30;
const LASTS = DAYS * 24 * 3600 * 1000;
const NOTED_EVERY = 60_000;

/** From where someone comes: a network address, and what their browser calls itself. */
export interface Whence {
  address: string;
  agent: string;
}

/**
 * Checks name and password, and the second step where one is asked for, and begins a session; gives the value for the cookie, or null where only
 * the second step is missing. Slows down who guesses, also who guesses the second step alone.
 */
export async function signIn(
  app: AppContext,
  { name, password, code }: { name: string; password: string; code?: string },
  whence: Whence,
): Promise<Outcome<string | null>> {
  if (!app.settings.passwords)
    return refuse("forbidden", "Nobody signs in by a password here: go to the page for signing in.");
  const key = name.trim().toLowerCase().slice(0, 100);
  const limits = await limitsOf(app);
  const early = limits.begin(key, whence.address, app.now());
  if (early) return early;
  const checked = await limits.inTurn(() => checkPassword(app, name, password));
  if (!checked.ok) return checked;
  const person = checked.value;
  const doer = { person: person?.id ?? null, address: whence.address };
  if (!person) {
    await audit(app, doer, "sign-in-refused", { name: key });
    return refuse("forbidden", "Name and password do not match.");
  }
  if (code === undefined && (await secondStepOf(app, person)).onSince !== null) return done(null);
  if (!(await takesStep(app, person, code ?? ""))) {
    await audit(app, doer, "sign-in-refused", { name: key });
    return refuse("forbidden", "That is neither what your device shows now nor one of your words.");
  }
  limits.right(key, whence.address);
  await audit(app, doer, "signed-in", { name: person.name });
  return done(await beginSession(app, person.id, whence));
}

/**
 * Sets a new password of one's own, for who knows the old one; ends all sessions and tokens, and begins a session here. Gives the value for
 * its cookie.
 */
export async function changePassword(
  app: AppContext,
  person: Person,
  { old, password }: PasswordRequest,
  whence: Whence,
): Promise<Outcome<string>> {
  const limits = await limitsOf(app);
  const early = limits.begin(person.name, whence.address, app.now());
  if (early) return early;
  const checked = await limits.inTurn(() => checkPassword(app, person.name, old));
  if (!checked.ok) return checked;
  if (!checked.value) return refuse("forbidden", "That is not your password until now.");
  limits.right(person.name, whence.address);
  const set = await setPassword(app, person.name, password);
  if (!set.ok) return set;
  await audit(app, { person: person.id, address: whence.address }, "password-set", { name: person.name });
  return done(await beginSession(app, person.id, whence));
}

/** Signs one of the demo's made-up people in without a password. Refuses everyone else. */
export async function signInToDemo(app: AppContext, name: string, whence: Whence): Promise<Outcome<string>> {
  const person = await app.db
    .selectFrom("people")
    .select("id")
    .where("name", "=", name)
    .where("demo", "=", 1)
    .where("disabled_at", "is", null)
    .executeTakeFirst();
  if (!person) return refuse("forbidden", "Only the demo’s made-up people can sign in without a password.");
  return done(await beginSession(app, person.id, whence));
}

/** Begins a session of somebody who has shown who they are; gives the value for its cookie. */
export async function beginSession(app: AppContext, person: string, { address, agent }: Whence): Promise<string> {
  const token = randomBytes(32).toString("base64url");
  const now = app.now();
  await app.db.deleteFrom("sessions").where("expires_at", "<", now).execute();
  await app.db
    .insertInto("sessions")
    .values({
      id: app.newId(),
      token_hash: hashOf(token),
      person,
      created_at: now,
      expires_at: now + LASTS,
      used_at: now,
      address: address.slice(0, 100),
      agent: agent.slice(0, 200),
    })
    .execute();
  return token;
}

export async function endSession(app: AppContext, token: string): Promise<void> {
  await app.db.deleteFrom("sessions").where("token_hash", "=", hashOf(token)).execute();
}

/** Where someone is signed in, the last used first. `token` is the value of the cookie with which it is asked. */
export async function sessionsOf(app: AppContext, person: Person, token: string | undefined): Promise<SessionView[]> {
  const rows = await app.db
    .selectFrom("sessions")
    .select(["id", "token_hash", "created_at", "used_at", "address", "agent"])
    .where("person", "=", person.id)
    .where("expires_at", ">", app.now())
    .orderBy("used_at", "desc")
    .limit(100)
    .execute();
  const own = token ? hashOf(token) : "";
  return rows.map(({ id, token_hash, created_at, used_at, address, agent }) => ({
    id,
    createdAt: created_at,
    usedAt: used_at ?? created_at,
    address,
    agent,
    here: token_hash === own,
  }));
}

/** Ends one of a person's sessions, or all but the one that asks. */
export async function endSessionOf(
  app: AppContext,
  person: Person,
  which: { id: string } | { allBut: string | undefined },
): Promise<Outcome<null>> {
  let query = app.db.deleteFrom("sessions").where("person", "=", person.id);
  query =
    "id" in which
      ? query.where("id", "=", which.id)
      : query.where("token_hash", "!=", which.allBut ? hashOf(which.allBut) : "");
  const { numDeletedRows } = await query.executeTakeFirst();
  if ("id" in which && numDeletedRows === 0n) return refuse("missing", "There is no such session of yours.");
  return done(null);
}

/** Whom a cookie's value belongs to; null when it is unknown, has run out, or they were disabled. */
export async function personOfSession(app: AppContext, token: string | null | undefined): Promise<Person | null> {
  if (!token) return null;
  const hash = hashOf(token);
  const session = await madeOnce(app.db, `session ${hash}`, () => sessionBy(app.db, hash));
  const now = app.now();
  if (session === null || session.endsAt <= now) return null;
  const { id, usedAt, person } = session;
  if (usedAt === null || now - usedAt > NOTED_EVERY)
    await app.db
      .updateTable("sessions")
      .set({ used_at: now })
      .where("id", "=", id)
      .execute()
      // That it was used is a note; a disk that is full keeps nobody from reading.
      .catch((error: unknown) => app.log.warn({ err: error }, "that a session was used could not be noted"));
  return person;
}

/** A session by the hash of its token, also one that has run out; null where there is none, or its person was disabled. */
async function sessionBy(db: Queries, hash: string) {
  const row = await db
    .selectFrom("sessions")
    .innerJoin("people", "people.id", "sessions.person")
    .select(PERSON)
    .select(["sessions.id as session", "sessions.used_at", "sessions.expires_at"])
    .where("sessions.token_hash", "=", hash)
    .where("people.disabled_at", "is", null)
    .executeTakeFirst();
  return row ? { id: row.session, usedAt: row.used_at, endsAt: row.expires_at, person: personOf(row) } : null;
}

/** The `Set-Cookie` line that begins (or, without a token, ends) a session in the browser. */
export function sessionCookie(token: string | null, secure: boolean): string {
  const life = token === null ? 0 : LASTS / 1000;
  return `${COOKIE}=${token ?? ""}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${life}${secure ? "; Secure" : ""}`;
}
