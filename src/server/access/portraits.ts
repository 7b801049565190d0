import { imageType } from "@/core/diff/tree";
import { HUES, hueOf } from "@/core/house/labels/hues";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { Portrait } from "@/core/views/api";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import type { AppContext } from "../app/context";
import { findPerson, shareRepository } from "./people";
import type { Person } from "./person";

/** Bytes that a picture of somebody may have. */
export const LARGEST_PORTRAIT = 512 * 1024;

/** How some people are drawn, by their ids. */
export async function portraitsOf(
  db: Queries,
  people: readonly { id: string; name: string }[],
): Promise<Map<string, Portrait>> {
  const rows =
    people.length === 0
      ? []
      : await db
          .selectFrom("portraits")
          .select(["person", "hue", "type", "at"])
          .where(
            "person",
            "in",
            people.map(({ id }) => id),
          )
          .execute();
  const known = new Map(rows.map((row) => [row.person, row]));
  return new Map(
    people.map(({ id, name }) => {
      const row = known.get(id);
      // The time in the address lets a new picture take the place of one that a browser has kept.
      const picture = row?.type ? `/api/people/${encodeURIComponent(name)}/picture?at=${row.at}` : null;
      return [id, { hue: row?.hue ?? hueOf(name), picture }];
    }),
  );
}

/** How one is drawn oneself. */
export function portraitOf({ db }: AppContext, { id, name }: Person): Promise<Portrait> {
  return madeOnce(db, `portrait of ${id} ${name}`, async () => (await portraitsOf(db, [{ id, name }])).get(id)!);
}

/** Chooses the colour of one's initials. */
export function chooseHue(app: AppContext, person: Person, hue: number): Promise<Outcome<Portrait>> {
  return HUES[hue] === undefined
    ? Promise.resolve(refuse("invalid", "There is no such colour."))
    : keep(app, person, { hue });
}

/** Takes a picture of oneself; what it is, its bytes tell. */
export async function keepPicture(app: AppContext, person: Person, bytes: Uint8Array): Promise<Outcome<Portrait>> {
  const type = imageType(Buffer.from(bytes));
  if (!type) return refuse("invalid", "That is not an image that can be shown: PNG, JPEG, GIF and WebP can.");
  return keep(app, person, { type, bytes: Buffer.from(bytes) });
}

/** Takes the picture of oneself away. */
export function dropPicture(app: AppContext, person: Person): Promise<Outcome<Portrait>> {
  return keep(app, person, { type: null, bytes: null });
}

async function keep(
  app: AppContext,
  person: Person,
  part: { hue?: number; type?: string | null; bytes?: Buffer | null },
): Promise<Outcome<Portrait>> {
  const at = app.now();
  await app.db
    .insertInto("portraits")
    .values({ person: person.id, hue: null, type: null, bytes: null, at, ...part })
    .onConflict((conflict) => conflict.column("person").doUpdateSet({ at, ...part }))
    .execute();
  return done(await portraitOf(app, person));
}

/** The picture of somebody, for who shares a repository with them. */
export async function pictureOf(
  app: AppContext,
  viewer: Person,
  name: string,
): Promise<Outcome<{ type: string; bytes: Uint8Array }>> {
  const shown = await findPerson(app.db, name);
  const row =
    shown && (await shareRepository(app, viewer, shown))
      ? await app.db.selectFrom("portraits").select(["type", "bytes"]).where("person", "=", shown.id).executeTakeFirst()
      : undefined;
  return row?.type && row.bytes
    ? done({ type: row.type, bytes: row.bytes })
    : refuse("missing", "There is no such picture.");
}
