import { readFileSync, writeFileSync } from "node:fs";
import { hostname } from "node:os";
import { join } from "node:path";
import Sqlite from "libsql";
import { done, type Outcome, refuse } from "@/core/plain/outcome";

/**
 * Holds a data folder for one server, as long as its process lives. The lock is one of the operating system, by way of a database file that
 * is held exclusively: it is gone with the process, however that ends. Who holds it stands in a file beside it, for the sentence of the second.
 */
export function holdFolder(data: string, port: number): Outcome<{ release: () => void }> {
  const told = join(data, "serving.json");
  const db = new Sqlite(join(data, "serving.lock"), { timeout: 0 });
  try {
    db.exec("pragma locking_mode = exclusive; pragma journal_mode = delete; begin exclusive;");
  } catch (error) {
    db.close();
    if (!/busy|locked/i.test(error instanceof Error ? error.message : "")) throw error;
    return refuse("conflict", `${data} is being served already${holder(told)}. One server a data folder.`);
  }
  writeFileSync(
    told,
    JSON.stringify({ process: process.pid, machine: hostname(), port, since: new Date().toISOString() }),
  );
  return done({ release: () => db.close() });
}

function holder(file: string): string {
  try {
    const { process: id, machine, port, since } = JSON.parse(readFileSync(file, "utf8")) as Record<string, unknown>;
    return `: by process ${id} on ${machine}, at port ${port}, since ${since}`;
  } catch {
    return " by another process";
  }
}
