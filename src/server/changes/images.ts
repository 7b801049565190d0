import { createHash } from "node:crypto";
import { sql } from "kysely";
import { imageType } from "@/core/diff/tree";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { allow, MOST_IMAGE_BYTES } from "../access/allowances";
import type { Person } from "../access/person";
import { enter } from "../access/repositories";
import type { AppContext } from "../app/context";

/** Bytes that one image in a remark may have. */
export const LARGEST_PICTURE = 5 * 1024 * 1024;

/** Keeps an image for the people of a repository; gives its address. What it is, its bytes tell and not its name. */
export async function keepImage(
  app: AppContext,
  person: Person,
  repositoryName: string,
  bytes: Uint8Array,
): Promise<Outcome<{ address: string }>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const type = imageType(Buffer.from(bytes));
  if (!type) return refuse("invalid", "That is not an image that can be shown: PNG, JPEG, GIF and WebP can.");
  const early = await allow(app, person, "images");
  if (early) return early;
  const { taken } = await app.db
    .selectFrom("images")
    .select(sql<number>`coalesce(sum(length(bytes)), 0)`.as("taken"))
    .where("person", "=", person.id)
    .executeTakeFirstOrThrow();
  if (taken + bytes.length > MOST_IMAGE_BYTES)
    return refuse(
      "too-large",
      `Your images take ${MOST_IMAGE_BYTES / 1024 / 1024} MB, which is the most for one person.`,
    );
  const { id: repository, name } = entered.value.repository;
  const id = createHash("sha256").update(repository).update(bytes).digest("hex");
  await app.db
    .insertInto("images")
    .values({ id, repository, person: person.id, type, bytes: Buffer.from(bytes), at: app.now() })
    .onConflict((conflict) => conflict.doNothing())
    .execute();
  return done({ address: `/api/repos/${name}/images/${id}` });
}

export async function keptImage(
  app: AppContext,
  person: Person,
  repositoryName: string,
  id: string,
): Promise<Outcome<{ type: string; bytes: Uint8Array }>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const row = await app.db
    .selectFrom("images")
    .select(["type", "bytes"])
    .where("id", "=", id)
    .where("repository", "=", entered.value.repository.id)
    .executeTakeFirst();
  return row ? done(row) : refuse("missing", "There is no such image.");
}
