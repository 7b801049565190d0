import type { Outcome } from "@/core/outcome";
import type { AppContext } from "@/server/app/context";
import { readSettings } from "@/server/app/settings";

/** Ends a command with a sentence on standard error and exit code 1. */
export class Stop extends Error {}

/** The value of an outcome; a refusal ends the command. */
export function need<T>(outcome: Outcome<T>): T {
  if (!outcome.ok) throw new Stop(outcome.refusal.reason);
  return outcome.value;
}

type Backstage = typeof import("./backstage");

/** What commands use of the server, loaded now. */
export function backstage(): Promise<Backstage> {
  return import("./backstage");
}

/** Runs one action on the installation that the environment names, and closes it again. */
export async function withLens(action: (app: AppContext, server: Backstage) => Promise<void>): Promise<void> {
  const server = await backstage();
  const app = await server.openApp(need(readSettings(process.env)));
  try {
    await action(app, server);
  } finally {
    await app.close();
  }
}

export function say(words: string): void {
  process.stdout.write(`${words}\n`);
}
