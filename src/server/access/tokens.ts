import { randomBytes } from "node:crypto";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { SCOPES, type Scope, type TokenRequest, type TokenView } from "@/core/views/access-view";
import type { AppContext } from "../app/context";
import { audit, type Doer } from "./audit";
import { findPerson } from "./people";
import { PERSON, type Person, personOf } from "./person";
import { hashOf } from "./secret";

/** So many tokens can a person have at a time. */
export const MOST_TOKENS = 50;
/** How long a token lasts where nothing else is said, in days. */
export const TOKEN_DAYS = 90;
const DAY = 24 * 3600 * 1000;

/** Makes a personal token, for programs and for git. It is shown once: only its hash is kept. `days` null: it never ends. */
export async function makeToken(
  app: AppContext,
  name: string,
  { label, scopes = ["read", "write", "git"], days = TOKEN_DAYS }: TokenRequest,
  doer: Doer,
): Promise<Outcome<string>> {
  const person = await findPerson(app.db, name);
  if (!person) return refuse("missing", `There is nobody of the name “${name}”.`);
  if (person.disabledAt !== null) return refuse("conflict", `${name} is disabled.`);
  if (scopes.length === 0) return refuse("invalid", "Say what the token may do.");
  const { many } = await app.db
    .selectFrom("tokens")
    .select((select) => select.fn.countAll<number>().as("many"))
    .where("person", "=", person.id)
    .executeTakeFirstOrThrow();
  if (many >= MOST_TOKENS)
    return refuse("conflict", `${MOST_TOKENS} tokens are the most: take some away that are no longer used.`);
  const token = `lens-${randomBytes(24).toString("base64url")}`;
  const now = app.now();
  await app.db
    .insertInto("tokens")
    .values({
      id: app.newId(),
      token_hash: hashOf(token),
      person: person.id,
      label: label.slice(0, 100),
      created_at: now,
      used_at: null,
      scopes: SCOPES.filter((scope) => scopes.includes(scope)).join(" "),
      expires_at: days === null ? null : now + days * DAY,
    })
    .execute();
  await audit(app, doer, "token-made", { for: name, label, scopes: scopes.join(" "), days });
  return done(token);
}

/** The tokens of a person, the newest first; what they are is known to nobody any more. */
export async function tokensOf(app: AppContext, person: { id: string }): Promise<TokenView[]> {
  return (await allTokens(app, person.id)).map(({ person: _, ...token }) => token);
}

/** The tokens of everyone, or of one, each with whose it is, the newest first. */
export async function allTokens(app: AppContext, of?: string): Promise<(TokenView & { person: string })[]> {
  let query = app.db
    .selectFrom("tokens")
    .select(["id", "person", "label", "created_at", "used_at", "scopes", "expires_at"])
    .orderBy("id", "desc");
  if (of) query = query.where("person", "=", of);
  return (await query.execute()).map(({ id, person, label, created_at, used_at, scopes, expires_at }) => ({
    id,
    person,
    label,
    createdAt: created_at,
    usedAt: used_at,
    expiresAt: expires_at,
    scopes: scopesIn(scopes),
  }));
}

/** Takes a token away from whoever has it, at once. Of others only administrators can. */
export async function dropToken(app: AppContext, person: Person, id: string, doer: Doer): Promise<Outcome<null>> {
  let query = app.db.deleteFrom("tokens").where("id", "=", id);
  if (!person.administrator) query = query.where("person", "=", person.id);
  const gone = await query.returning(["label", "person"]).executeTakeFirst();
  if (!gone) return refuse("missing", "There is no such token of yours.");
  await audit(app, doer, "token-dropped", { label: gone.label, own: gone.person === person.id });
  return done(null);
}

const NOTED_EVERY = 60_000;

/** Whom a token speaks for, and what it may do. */
export interface Bearer {
  person: Person;
  scopes: Scope[];
}

/**
 * Whom an `Authorization` header speaks for: a token as Bearer, or as the password of Basic with the person's name. Null when it is unknown,
 * has run out, or they were disabled.
 */
export async function bearerOf(app: AppContext, header: string | null): Promise<Bearer | null> {
  const [, scheme, value] = /^(Bearer|Basic)\s+(\S+)$/i.exec(header ?? "") ?? [];
  if (!scheme) return null;
  const [name, token] = scheme.toLowerCase() === "bearer" ? [null, value] : basic(value);
  const row = await app.db
    .selectFrom("tokens")
    .innerJoin("people", "people.id", "tokens.person")
    .select(PERSON)
    .select(["tokens.id as token", "tokens.used_at", "tokens.scopes", "tokens.expires_at"])
    .where("tokens.token_hash", "=", hashOf(token))
    .where("people.disabled_at", "is", null)
    .executeTakeFirst();
  if (!row || (name !== null && name !== row.name)) return null;
  const { token: id, used_at, scopes, expires_at, ...person } = row;
  const now = app.now();
  if (expires_at !== null && expires_at <= now) return null;
  if (used_at === null || now - used_at > NOTED_EVERY)
    await app.db
      .updateTable("tokens")
      .set({ used_at: now })
      .where("id", "=", id)
      .execute()
      .catch((error: unknown) => app.log.warn({ err: error }, "that a token was used could not be noted"));
  return { person: personOf(person), scopes: scopesIn(scopes) };
}

/** Whom a token in the address of a feed speaks for: it has to be for feeds and nothing else, since addresses are seen by others. */
export async function feedReaderOf(app: AppContext, token: string): Promise<Person | null> {
  const bearer = await bearerOf(app, `Bearer ${token}`);
  return bearer && bearer.scopes.join() === "feed" ? bearer.person : null;
}

function scopesIn(text: string): Scope[] {
  const words = text.split(" ");
  return SCOPES.filter((scope) => words.includes(scope));
}

function basic(value: string): [name: string, token: string] {
  const text = Buffer.from(value, "base64").toString("utf8");
  const colon = text.indexOf(":");
  return [text.slice(0, Math.max(0, colon)), text.slice(colon + 1)];
}
