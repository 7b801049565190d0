import { randomBytes } from "node:crypto";
import { Secret, TOTP } from "otpauth";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { SecondStepBegun, SecondStepView } from "@/core/views/access-view";
import type { Queries } from "@/store/database";
import type { AppContext } from "../../app/context";
import { audit, type Doer } from "../audit";
import type { Person } from "../person";
import { hashOf } from "../secret";

/** A second step at signing in: a number that a device makes anew every half minute (RFC 6238), or one of a few words that each count once. */

const ISSUER = "Earnest Lens";
/** In seconds. */
const PERIOD = 30;
const MOST_WORDS = 8;
/** Letters that are not taken for each other. */
const LETTERS = "abcdefghjkmnpqrstuvwxyz23456789";

/** How it stands with one's second step. */
export async function secondStepOf(app: AppContext, person: { id: string }): Promise<SecondStepView> {
  const row = await rowOf(app.db, person);
  if (!row || row.on_since === null) return { onSince: null, wordsLeft: 0 };
  return { onSince: row.on_since, wordsLeft: (JSON.parse(row.words) as string[]).length };
}

/** Makes a secret for a device. It counts for nothing until {@link confirmSecondStep}. */
export async function beginSecondStep(app: AppContext, person: Person): Promise<Outcome<SecondStepBegun>> {
  if ((await secondStepOf(app, person)).onSince !== null)
    return refuse("conflict", "Your second step is on already: switch it off first.");
  const secret = new Secret({ size: 20 }).base32;
  const row = { person: person.id, secret, on_since: null, last_step: 0, words: "[]" };
  await app.db
    .insertInto("second_steps")
    .values(row)
    .onConflict((conflict) => conflict.column("person").doUpdateSet(row))
    .execute();
  const address = totpOf(secret, person.name).toString();
  const { toString: drawn } = await import("qrcode");
  return done({ secret, address, picture: await drawn(address, { type: "svg", margin: 1 }) });
}

/** Switches it on for who shows that their device has the secret. Gives the words for when it is lost, which are told this once. */
export async function confirmSecondStep(
  app: AppContext,
  person: Person,
  doer: Doer,
  code: string,
): Promise<Outcome<{ words: string[] }>> {
  const row = await rowOf(app.db, person);
  if (!row || row.on_since !== null) return refuse("conflict", "Begin it anew: nothing waits to be confirmed.");
  const step = stepOf(app, row.secret, code, row.last_step);
  if (step === null) return refuse("invalid", "That is not what your device shows now. Is its clock right?");
  const words = Array.from({ length: MOST_WORDS }, word);
  const kept = JSON.stringify(words.map(hashOf));
  await app.db
    .updateTable("second_steps")
    .set({ on_since: app.now(), last_step: step, words: kept })
    .where("person", "=", person.id)
    .execute();
  await audit(app, doer, "second-step-on", { name: person.name });
  return done({ words });
}

/** Switches it off, for who can take it. */
export async function endSecondStep(app: AppContext, person: Person, doer: Doer, code: string): Promise<Outcome<null>> {
  if ((await secondStepOf(app, person)).onSince === null) return refuse("conflict", "Your second step is off.");
  if (!(await takesStep(app, person, code)))
    return refuse("forbidden", "That is neither what your device shows now nor one of your words.");
  await dropSecondStep(app, person, doer);
  return done(null);
}

/** Switches it off for somebody: by an administrator, for who has lost their device and their words. */
export async function dropSecondStep(app: AppContext, person: { id: string; name: string }, doer: Doer): Promise<void> {
  await app.db.deleteFrom("second_steps").where("person", "=", person.id).execute();
  await audit(app, doer, "second-step-off", { name: person.name });
}

/**
 * Whether somebody takes their second step by a number or a word; true where they have none. A number counts once, and so does a word: in one
 * transaction, so that the same one sent twice at once is taken once.
 */
export function takesStep(app: AppContext, person: { id: string }, said: string): Promise<boolean> {
  return app.db.transaction().execute(async (tx) => {
    const row = await rowOf(tx, person);
    if (!row || row.on_since === null) return true;
    const step = stepOf(app, row.secret, said, row.last_step);
    if (step !== null) {
      await tx.updateTable("second_steps").set({ last_step: step }).where("person", "=", person.id).execute();
      return true;
    }
    const words = JSON.parse(row.words) as string[];
    const used = hashOf(said.trim().toLowerCase());
    if (!words.includes(used)) return false;
    const left = JSON.stringify(words.filter((one) => one !== used));
    await tx.updateTable("second_steps").set({ words: left }).where("person", "=", person.id).execute();
    return true;
  });
}

function rowOf(db: Queries, person: { id: string }) {
  return db.selectFrom("second_steps").selectAll().where("person", "=", person.id).executeTakeFirst();
}

function totpOf(secret: string, label: string): TOTP {
  return new TOTP({ issuer: ISSUER, label, secret: Secret.fromBase32(secret), period: PERIOD });
}

/** The half minute that a number is of, the one before and the one after among them; null for any other, and for one that was taken. */
function stepOf(app: AppContext, secret: string, said: string, last: number): number | null {
  const code = said.replaceAll(/\s/g, "");
  if (!/^\d{6}$/.test(code)) return null;
  const now = app.now();
  const delta = totpOf(secret, "").validate({ token: code, timestamp: now, window: 1 });
  if (delta === null) return null;
  const step = Math.floor(now / 1000 / PERIOD) + delta;
  return step > last ? step : null;
}

/** Twelve letters made by chance, in threes. */
function word(): string {
  const letters: string[] = [];
  // What would make some letters likelier than others is thrown away.
  while (letters.length < 12)
    for (const byte of randomBytes(24))
      if (byte < LETTERS.length * 8 && letters.length < 12) letters.push(LETTERS[byte % LETTERS.length]);
  return [0, 3, 6, 9].map((at) => letters.slice(at, at + 3).join("")).join("-");
}
