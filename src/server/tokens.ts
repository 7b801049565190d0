import { randomBytes } from "node:crypto";
import type { TokenView } from "@/core/api";
import { done, type Outcome, refuse } from "@/core/outcome";
import type { Lens } from "./lens";
import { findPerson, type Person, withoutPassword } from "./people";
import { hashOf } from "./secret";

/** Makes a personal token, for programs and for git. It is shown once: only its hash is kept. */
export async function makeToken(lens: Lens, name: string, label: string): Promise<Outcome<string>> {
  const person = await findPerson(lens.db, name);
  if (!person) return refuse("missing", `There is nobody of the name “${name}”.`);
  const token = `lens-${randomBytes(24).toString("base64url")}`;
  await lens.db
    .insertInto("tokens")
    .values({
      id: lens.newId(),
      token_hash: hashOf(token),
      person: person.id,
      label: label.slice(0, 100),
      created_at: lens.now(),
      used_at: null,
    })
    .execute();
  return done(token);
}

/** The tokens of a person, the newest first; what they are is known to nobody any more. */
export async function tokensOf(lens: Lens, person: Person): Promise<TokenView[]> {
  const rows = await lens.db
    .selectFrom("tokens")
    .select(["id", "label", "created_at", "used_at"])
    .where("person", "=", person.id)
    .orderBy("id", "desc")
    .execute();
  return rows.map(({ id, label, created_at, used_at }) => ({ id, label, createdAt: created_at, usedAt: used_at }));
}

/** Takes a token away from whoever has it, at once. */
export async function dropToken(lens: Lens, person: Person, id: string): Promise<Outcome<null>> {
  const { numDeletedRows } = await lens.db
    .deleteFrom("tokens")
    .where("id", "=", id)
    .where("person", "=", person.id)
    .executeTakeFirst();
  return numDeletedRows > 0n ? done(null) : refuse("missing", "There is no such token of yours.");
}

const NOTED_EVERY = 60_000;

/** Whom an `Authorization` header speaks for: a token as Bearer, or as the password of Basic with the person's name. */
export async function personOfToken(lens: Lens, header: string | null): Promise<Person | null> {
  const [, scheme, value] = /^(Bearer|Basic)\s+(\S+)$/i.exec(header ?? "") ?? [];
  if (!scheme) return null;
  const [name, token] = scheme.toLowerCase() === "bearer" ? [null, value] : basic(value);
  const row = await lens.db
    .selectFrom("tokens")
    .innerJoin("people", "people.id", "tokens.person")
    .selectAll("people")
    .select(["tokens.id as token", "tokens.used_at"])
    .where("tokens.token_hash", "=", hashOf(token))
    .executeTakeFirst();
  if (!row || (name !== null && name !== row.name)) return null;
  const { token: id, used_at, ...person } = row;
  const now = lens.now();
  if (used_at === null || now - used_at > NOTED_EVERY)
    await lens.db.updateTable("tokens").set({ used_at: now }).where("id", "=", id).execute();
  return withoutPassword(person);
}

function basic(value: string): [name: string, token: string] {
  const text = Buffer.from(value, "base64").toString("utf8");
  const colon = text.indexOf(":");
  return [text.slice(0, Math.max(0, colon)), text.slice(colon + 1)];
}
