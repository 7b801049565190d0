import { readFileSync } from "node:fs";

/** What came of something that a bench cannot do without. */
export function need<T>(outcome: { ok: true; value: T } | { ok: false; refusal: { reason: string } }): T {
  if (!outcome.ok) throw new Error(outcome.refusal.reason);
  return outcome.value;
}

/** Resident memory of a process, in bytes. */
export function memoryOf({ pid }: { pid?: number }): number {
  const [, kilobytes] = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8")) ?? [];
  return Number(kilobytes ?? 0) * 1024;
}

/** The password of all people in a bench. */
export const PASSWORD = "long enough";

/** Signs somebody in; gives the cookie. */
export async function signIn(address: string, name = "kit"): Promise<string> {
  const body = JSON.stringify({ name, password: PASSWORD });
  const headers = { "content-type": "application/json", origin: address };
  const response = await fetch(`${address}/api/sign-in`, { method: "POST", headers, body });
  if (!response.ok) throw new Error(`Signing in was answered with ${response.status}.`);
  return response.headers
    .getSetCookie()
    .map((cookie) => cookie.split(";")[0])
    .join("; ");
}
