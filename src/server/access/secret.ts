import { createHash, timingSafeEqual } from "node:crypto";

/** What is kept of a secret that was made by chance: who reads it cannot sign in with it. */
export function hashOf(secret: string): string {
  return createHash("sha256").update(secret).digest("hex");
}

/** Whether somebody said a secret. How long it takes tells nothing of it. */
export function sameSecret(said: string, secret: string): boolean {
  return timingSafeEqual(Buffer.from(hashOf(said)), Buffer.from(hashOf(secret)));
}
