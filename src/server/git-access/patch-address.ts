import { createHmac } from "node:crypto";
import { atLeast } from "@/core/review/roles";
import { roleOf } from "../access/people";
import { type Person, personOf } from "../access/person";
import type { Repository } from "../access/repositories";
import { findRepository } from "../access/repositories";
import { sameSecret, signingKey } from "../access/secret";
import type { AppContext } from "../app/context";

/** The address to which somebody mails patches for a repository: theirs alone, so that nobody is taken for them. Null where no mail is taken. */
export async function patchAddress(app: AppContext, person: Person, repository: Repository): Promise<string | null> {
  const { mailAnswers } = app.settings;
  if (mailAnswers === null) return null;
  const [name, host] = mailAnswers.split("@");
  return `${name}+p${await tagOf(app, person.id, repository.id)}@${host}`;
}

/** Whose address it is and for which repository; null for one that is none, and for who may not push there any more. */
export async function patchesFor(
  app: AppContext,
  address: string,
): Promise<{ person: Person; repository: Repository } | null> {
  const { mailAnswers } = app.settings;
  if (mailAnswers === null) return null;
  const [name, host] = mailAnswers.toLowerCase().split("@");
  const [, before, tag, at] = /^([^+@]+)\+p([0-9a-z]{30})@(.+)$/.exec(address.toLowerCase()) ?? [];
  if (!tag || before !== name || at !== host) return null;
  const people = await app.db.selectFrom("people").selectAll().where("disabled_at", "is", null).execute();
  const repositories = await app.db
    .selectFrom("repositories")
    .select(["id", "name"])
    .where("deleted_at", "is", null)
    .execute();
  for (const row of people)
    for (const { id, name: called } of repositories) {
      if (!sameSecret(tag, await tagOf(app, row.id, id))) continue;
      const repository = await findRepository(app.db, called);
      if (!repository || !atLeast(await roleOf(app.db, row.id, id), "contributor")) return null;
      return { person: personOf(row), repository };
    }
  return null;
}

async function tagOf(app: AppContext, person: string, repository: string): Promise<string> {
  const bytes = createHmac("sha256", await signingKey(app, "patches by mail"))
    .update(`${person} ${repository}`)
    .digest();
  return BigInt(`0x${bytes.toString("hex")}`)
    .toString(36)
    .padStart(50, "0")
    .slice(-30);
}
