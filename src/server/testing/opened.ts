import { copyFileSync, existsSync, mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type AppContext, type AppOptions, openApp } from "../app/context";
import { bareSettings, type Settings } from "../app/settings";
import { startWorkers, type Workers } from "../workers/workers";

/** What all installations of one process of tests have in common: threads, and an empty database to begin with. */
interface Common {
  workers: Workers;
  /** A database with all tables and nothing in them. */
  empty: Promise<string>;
}

const KEY = Symbol.for("earnest-lens.tests.common");

/** Opens an installation as {@link openApp} does, and sooner: starting threads and making tables takes longer than most tests. */
export async function opened(settings: Settings, options: AppOptions = {}): Promise<AppContext> {
  const shared = globalThis as { [KEY]?: Common };
  shared[KEY] ??= { workers: startWorkers(settings.root), empty: emptyDatabase(settings.root) };
  const { workers, empty } = shared[KEY];
  const file = join(settings.data, "lens.db");
  if (!existsSync(file)) {
    mkdirSync(settings.data, { recursive: true });
    copyFileSync(await empty, file);
  }
  return openApp(settings, { ...options, workers });
}

async function emptyDatabase(root: string): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), "lens-empty-"));
  process.once("exit", () => rmSync(folder, { recursive: true, force: true }));
  await (await openApp(bareSettings(folder, root))).close();
  return join(folder, "lens.db");
}
