import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import * as v from "valibot";

/** How programs of the same person come into a clone that is served. */
const door = v.object({
  address: v.pipe(v.string(), v.regex(/^http:\/\/127\.0\.0\.1:\d+$/)),
  /** The value of the cookie of their session. */
  session: v.string(),
  /** What the clone is called there. */
  repository: v.string(),
  /** The number of the process that serves it. */
  process: v.number(),
});
export type Door = v.InferOutput<typeof door>;

const placeOf = (data: string) => join(data, "door.json");

/** Says how to come in, to who owns the clone alone. */
export function writeDoor(data: string, told: Door): void {
  writeFileSync(placeOf(data), JSON.stringify(told), { mode: 0o600 });
}

/** How to come in; null where nobody serves the clone now. */
export function readDoor(data: string): Door | null {
  try {
    const told = v.parse(door, JSON.parse(readFileSync(placeOf(data), "utf8")));
    process.kill(told.process, 0);
    return told;
  } catch {
    return null;
  }
}
