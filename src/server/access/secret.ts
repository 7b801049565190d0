import { createHash, randomBytes, timingSafeEqual } from "node:crypto";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

/** What is kept of a secret that was made by chance: who reads it cannot sign in with it. */
export function hashOf(secret: string): string {
  return createHash("sha256").update(secret).digest("hex");
}

const SIGNING_KEYS = shelf<string>("signing keys", 20);

/** What this installation signs a kind of thing with: made when it is first needed, and the same from then on. */
export function signingKey(app: AppContext, name: string): Promise<string> {
  return SIGNING_KEYS(app).get(name, async () => {
    await app.db
      .insertInto("secrets")
      .values({ name, value: randomBytes(32).toString("hex") })
      .onConflict((conflict) => conflict.doNothing())
      .execute();
    const row = await app.db.selectFrom("secrets").select("value").where("name", "=", name).executeTakeFirstOrThrow();
    return row.value;
  });
}

/** Whether somebody said a secret. How long it takes tells nothing of it. */
export function sameSecret(said: string, secret: string): boolean {
  return timingSafeEqual(Buffer.from(hashOf(said)), Buffer.from(hashOf(secret)));
}
