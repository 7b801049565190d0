import { closeSync, fsyncSync, openSync, statfsSync, unlinkSync, writeSync } from "node:fs";
import { join } from "node:path";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { keepPlace } from "@/store/log";
import type { AppContext } from "./context";
import { shelf } from "./kept";
import { troubleOf } from "./trouble";

/** Whether an installation can do its work; `why` is a sentence where it cannot. */
export interface Health {
  well: boolean;
  why: string | null;
  /** Free on the disk of the data folder, in bytes. */
  free: number;
}

/** With less than this nothing more is sure to be written, in bytes. */
const LEAST_FREE = 32 * 1024 * 1024;
const KEPT_FOR = 3_000;

const HEALTH = shelf<Health>("health", 1);

/** Looked at anew every few seconds at most, whoever asks how often. */
export function healthOf(app: AppContext): Promise<Health> {
  return HEALTH(app).get(String(Math.floor(Date.now() / KEPT_FOR)), () => look(app));
}

async function look(app: AppContext): Promise<Health> {
  const free = freeIn(app.settings.data);
  try {
    await keepPlace(app.db, "health", app.now());
    const written = canWrite(app.settings.data);
    if (!written.ok) return { well: false, why: written.refusal.reason, free };
  } catch (error) {
    app.log.error({ err: error }, "the database cannot be written");
    return { well: false, why: troubleOf(error) ?? "The database cannot be written: the server’s log says why.", free };
  }
  if (free < LEAST_FREE)
    return { well: false, why: `Only ${Math.floor(free / 1024 / 1024)} MB are free where the data folder is.`, free };
  return { well: true, why: null, free };
}

function freeIn(data: string): number {
  try {
    const { bavail, bsize } = statfsSync(data);
    return bavail * bsize;
  } catch {
    return 0;
  }
}

/** Whether files can be made in the data folder, and hold something. */
export function canWrite(data: string): Outcome<null> {
  const file = join(data, `.probe-${process.pid}`);
  try {
    const descriptor = openSync(file, "w");
    try {
      writeSync(descriptor, Buffer.alloc(64 * 1024, 1));
      fsyncSync(descriptor);
    } finally {
      closeSync(descriptor);
      unlinkSync(file);
    }
    return done(null);
  } catch (error) {
    return refuse(
      "conflict",
      `${data}: ${troubleOf(error) ?? `it cannot be written to (${(error as Error).message}).`}`,
    );
  }
}
