import { spawn } from "node:child_process";
import { createInterface } from "node:readline";
import { git, gitEnvironment } from "../run";

/** More than any clone asks for at once; they are looked through where others wait. */
const MOST_PACKETS = 300_000;
/** How long a history is looked through, in milliseconds: what was not found then is taken for not there. */
const LONGEST = 120_000;

/**
 * The ids of what a request of git's protocol, version 2, wants to have: the `want` lines of its packets. Throws where the packets are
 * broken.
 */
export function wantsIn(body: Buffer): Set<string> {
  const wants = new Set<string>();
  let at = 0;
  for (let packets = 0; at < body.length; packets++) {
    if (packets >= MOST_PACKETS) throw new Error("The request has too many packets.");
    const length = Number.parseInt(body.toString("latin1", at, at + 4), 16);
    if (!(length >= 0) || at + 4 > body.length) throw new Error("The request is not made of git’s packets.");
    if (length > 4) {
      const line = body.toString("latin1", at + 4, at + Math.min(length, 80));
      const [, id] = /^want ([0-9a-f]{40,64})\b/.exec(line) ?? [];
      if (id) wants.add(id);
    }
    // 0 to 2 end a part and have no length of their own.
    at += Math.max(4, length);
  }
  return wants;
}

/** Takes out of `ids` those to which some ref leads straight. */
export async function withoutTips(folder: string, ids: Set<string>): Promise<void> {
  const { stdout } = await git(folder, ["for-each-ref", "--format=%(objectname) %(*objectname)"]);
  for (const id of stdout.toString().split(/\s+/)) ids.delete(id);
}

/** An id of `ids` of which there is no object at all; null where there are objects of all of them. */
export async function missingOf(folder: string, ids: ReadonlySet<string>): Promise<string | null> {
  const input = [...ids].map((id) => `${id}\n`).join("");
  const { stdout } = await git(folder, ["cat-file", "--batch-check"], { input });
  return /^([0-9a-f]+) missing$/m.exec(stdout.toString())?.[1] ?? null;
}

/** Takes out of `ids` all that some ref leads to; the whole history is looked through as far as it must be. */
export async function withoutNamed(folder: string, ids: Set<string>): Promise<void> {
  const child = spawn("git", ["--git-dir", folder, "rev-list", "--all", "--objects", "--no-object-names"], {
    env: gitEnvironment(),
    stdio: ["ignore", "pipe", "ignore"],
    timeout: LONGEST,
  });
  try {
    for await (const id of createInterface({ input: child.stdout })) {
      ids.delete(id);
      if (ids.size === 0) return;
    }
  } finally {
    child.kill();
  }
}
