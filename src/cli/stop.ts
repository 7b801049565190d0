import { existsSync } from "node:fs";
import { join } from "node:path";
import type { Outcome } from "@/core/plain/outcome";
import type { AppContext } from "@/server/app/context";
import { readSettings } from "@/server/app/settings";

/** Ends a command with a sentence on standard error and exit code 1. */
export class Stop extends Error {}

/** The value of an outcome; a refusal ends the command. */
export function need<T>(outcome: Outcome<T>): T {
  if (!outcome.ok) throw new Stop(outcome.refusal.reason);
  return outcome.value;
}

type Backstage = typeof import("./keeping/backstage");

/** What commands use of the server, loaded now. */
export function backstage(): Promise<Backstage> {
  return import("./keeping/backstage");
}

/**
 * Runs one action on the installation that the environment names, says on standard error which that is, and closes it again. A folder
 * that has none is most likely the wrong one: only what `begins` an installation makes one there. `alone`: it is that of a clone.
 */
export async function withLens(
  action: (app: AppContext, server: Backstage) => Promise<void>,
  { begins = false, alone = false } = {},
): Promise<void> {
  const settings = { ...need(readSettings(process.env)), alone };
  if (!begins && !existsSync(join(settings.data, "lens.db")))
    throw new Stop(
      `There is no installation in ${settings.data}. LENS_DATA names the folder of another; “lens person add” begins a new one.`,
    );
  process.stderr.write(`With the data in ${settings.data}\n`);
  const server = await backstage();
  const app = await server.openApp(settings);
  try {
    await action(app, server);
  } finally {
    await app.close();
  }
}

export function say(words: string): void {
  process.stdout.write(`${words}\n`);
}
