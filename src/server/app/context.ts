import { mkdirSync } from "node:fs";
import { join } from "node:path";
import pino, { type Logger } from "pino";
import { decodeTime, monotonicFactory } from "ulid";
import { type Database, openDatabase } from "@/store/database";
import { lastId, rebuild } from "@/store/log";
import { bringUpToDate } from "@/store/project";
import { startWorkers, type Workers } from "../workers/workers";
import { Bell } from "./bell";
import type { Shelves } from "./kept";
import { readSettings, type Settings } from "./settings";

/** One running installation: what every part of the application needs to do its work. */
export interface AppContext extends Shelves {
  settings: Settings;
  db: Database;
  workers: Workers;
  log: Logger;
  /** Milliseconds since 1970. */
  now: () => number;
  /** A new ULID, greater than those before it, and than `after`, an id that may come from elsewhere: of a time that is no more than {@link MOST_AHEAD} ahead. */
  newId: (after?: string) => string;
  /** Rung when something was added to the log. */
  bell: Bell;
  /** Does work under a name after what was begun under it before. */
  inTurn: <T>(name: string, work: () => Promise<T>) => Promise<T>;
  close: () => Promise<void>;
}

/** So far ahead, in milliseconds, may the clock of a clone be of which something is taken in here. */
export const MOST_AHEAD = 60_000;

export interface AppOptions {
  now?: () => number;
  /** Numbers from 0 to 1 for ids; the demo gives its own, to be the same every time. */
  random?: () => number;
  /** Threads that somebody else starts and ends; else it has its own. */
  workers?: Workers;
}

/** Opens an installation: makes its data folder, and brings its tables up to date where needed. */
export async function openApp(settings: Settings, options: AppOptions = {}): Promise<AppContext> {
  mkdirSync(join(settings.data, "repositories"), { recursive: true });
  const now = options.now ?? Date.now;
  const ulid = monotonicFactory(options.random);
  const db = await openDatabase(join(settings.data, "lens.db"));
  await db.transaction().execute((tx) => bringUpToDate(tx, rebuild));
  // Ids order the log: a clock that was set back does not put what happens now before what happened already.
  const last = await lastId(db);
  let floor = last === null ? 0 : decodeTime(last) + 1;
  const workers = options.workers ?? startWorkers(settings.root);
  const log = pino({
    level: process.env.LENS_LOG ?? "info",
    base: undefined,
    redact: ["req.headers.cookie", "req.headers.authorization"],
  });
  const turns = new Map<string, Promise<unknown>>();
  const app: AppContext = {
    shelves: new Map(),
    bell: new Bell(),
    inTurn: (name, work) => {
      const mine = (turns.get(name) ?? Promise.resolve()).then(work, work);
      turns.set(name, mine);
      const forget = () => turns.get(name) === mine && turns.delete(name);
      mine.then(forget, forget);
      return mine;
    },
    settings,
    db,
    workers,
    log,
    now,
    newId: (after) => {
      const at = now();
      if (after !== undefined) floor = Math.max(floor, Math.min(decodeTime(after) + 1, at + MOST_AHEAD));
      return ulid(Math.max(at, floor));
    },
    close: async () => {
      if (!options.workers) await workers.close();
      await db.destroy();
    },
  };
  return app;
}

const KEY = Symbol.for("earnest-lens");
type Shared = { [KEY]?: Promise<AppContext> };

/** The installation that this server process serves, opened at the first call. Pages and routes are bundled apart but share it. */
export function app(): Promise<AppContext> {
  const shared = globalThis as Shared;
  shared[KEY] ??= (async () => {
    const settings = readSettings(process.env);
    if (!settings.ok) throw new Error(settings.refusal.reason);
    return openApp(settings.value);
  })();
  return shared[KEY];
}
