import { createHmac } from "node:crypto";
import { atLeast } from "@/core/review/roles";
import { personById, roleOf } from "../access/people";
import type { Person } from "../access/person";
import { findRepository, type Repository } from "../access/repositories";
import { signingKey } from "../access/secret";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

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
  const whose = (await addressees(app)).get(tag);
  const person = await personById(app.db, whose?.person);
  const row = whose
    ? await app.db.selectFrom("repositories").select("name").where("id", "=", whose.repository).executeTakeFirst()
    : undefined;
  const repository = row ? await findRepository(app.db, row.name) : null;
  if (!person || !repository || !atLeast(await roleOf(app.db, person.id, repository.id), "contributor")) return null;
  return { person, repository };
}

const PATCH_ADDRESSES = shelf<Map<string, { person: string; repository: string }>>("patch addresses", 1);

/** Whom each address stands for, worked out once for all people and repositories that there are: anybody may ask, and none of it is to cost much. */
async function addressees(app: AppContext): Promise<Map<string, { person: string; repository: string }>> {
  const people = await app.db.selectFrom("people").select("id").orderBy("id").execute();
  const repositories = await app.db.selectFrom("repositories").select("id").orderBy("id").execute();
  const state = [people.length, people.at(-1)?.id, repositories.length, repositories.at(-1)?.id].join(" ");
  return PATCH_ADDRESSES(app).get(state, async () => {
    const all = new Map<string, { person: string; repository: string }>();
    for (const { id: person } of people)
      for (const { id: repository } of repositories)
        all.set(await tagOf(app, person, repository), { person, repository });
    return all;
  });
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
