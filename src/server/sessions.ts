import { randomBytes } from "node:crypto";
import { done, type Outcome, refuse } from "@/core/outcome";
import type { Lens } from "./lens";
import { checkPassword, type Person, withoutPassword } from "./people";
import { hashOf } from "./secret";

export const COOKIE = "lens_session";
const DAYS = 30;
const LASTS = DAYS * 24 * 3600 * 1000;
const MOST_TRIES = 10;
const TRIES_WITHIN = 10 * 60 * 1000;

/** Wrong tries by name, newest last. In memory: a restart forgives. */
const tries = new Map<string, number[]>();

/** Checks name and password and begins a session; gives the value for the cookie. Slows down who guesses. */
export async function signIn(lens: Lens, name: string, password: string): Promise<Outcome<string>> {
  const key = name.trim().toLowerCase();
  const now = lens.now();
  const recent = (tries.get(key) ?? []).filter((at) => at > now - TRIES_WITHIN);
  if (recent.length >= MOST_TRIES) {
    const minutes = Math.ceil((recent[0] + TRIES_WITHIN - now) / 60_000);
    return refuse(
      "forbidden",
      `There were too many wrong tries for this name. Try again in ${minutes === 1 ? "a minute" : `${minutes} minutes`}.`,
    );
  }
  const person = await checkPassword(lens, name, password);
  if (!person) {
    if (tries.size > 10_000) tries.clear();
    tries.set(key, [...recent, now]);
    return refuse("forbidden", "Name and password do not match.");
  }
  tries.delete(key);
  return done(await beginSession(lens, person.id));
}

/** Signs one of the demo's made-up people in without a password. Refuses everyone else. */
export async function signInToDemo(lens: Lens, name: string): Promise<Outcome<string>> {
  const person = await lens.db
    .selectFrom("people")
    .select("id")
    .where("name", "=", name)
    .where("demo", "=", 1)
    .executeTakeFirst();
  if (!person) return refuse("forbidden", "Only the demo’s made-up people can sign in without a password.");
  return done(await beginSession(lens, person.id));
}

async function beginSession(lens: Lens, person: string): Promise<string> {
  const token = randomBytes(32).toString("base64url");
  const now = lens.now();
  await lens.db.deleteFrom("sessions").where("expires_at", "<", now).execute();
  await lens.db
    .insertInto("sessions")
    .values({ token_hash: hashOf(token), person, created_at: now, expires_at: now + LASTS })
    .execute();
  return token;
}

export async function endSession(lens: Lens, token: string): Promise<void> {
  await lens.db.deleteFrom("sessions").where("token_hash", "=", hashOf(token)).execute();
}

/** Whom a cookie's value belongs to; null when it is unknown or has run out. */
export async function personOfSession(lens: Lens, token: string | undefined): Promise<Person | null> {
  if (!token) return null;
  const row = await lens.db
    .selectFrom("sessions")
    .innerJoin("people", "people.id", "sessions.person")
    .selectAll("people")
    .where("sessions.token_hash", "=", hashOf(token))
    .where("sessions.expires_at", ">", lens.now())
    .executeTakeFirst();
  return row ? withoutPassword(row) : null;
}

/** The `Set-Cookie` line that begins (or, without a token, ends) a session in the browser. */
export function sessionCookie(token: string | null, secure: boolean): string {
  const life = token === null ? 0 : LASTS / 1000;
  return `${COOKIE}=${token ?? ""}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${life}${secure ? "; Secure" : ""}`;
}
