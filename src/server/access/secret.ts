import { createHash } from "node:crypto";

/** What is kept of a secret that was made by chance: who reads it cannot sign in with it. */
export function hashOf(secret: string): string {
  return createHash("sha256").update(secret).digest("hex");
}
