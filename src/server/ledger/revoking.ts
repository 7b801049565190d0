import { createHash } from "node:crypto";
import { canonical } from "@/core/doors/ledger/canonical";
import { readLedgerEntry } from "@/core/doors/ledger/ledger";
import { appendLedger, ledgerFiles, rememberLedger, settleLedger } from "@/git/ledger";
import { eventsOf } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { ledgerKey, revokedText } from "./keys";

/** Says in the ledgers which keys were revoked, as far as that has not been said, see {@link tellRevoked}. */
export async function tellRevocations(app: AppContext): Promise<void> {
  const keys = await app.db
    .selectFrom("clone_keys")
    .select(["key", "person"])
    .where("revoked_at", "is not", null)
    .where("told_at", "is", null)
    .execute();
  for (const { key, person } of keys) {
    try {
      await tellRevoked(app, key, person);
      await app.db.updateTable("clone_keys").set({ told_at: app.now() }).where("key", "=", key).execute();
    } catch (error) {
      // One ledger that cannot be written holds up no other key; it is tried again.
      app.log.error({ err: error, key }, "that a key is revoked could not be told");
    }
  }
}

/**
 * Says in every ledger in which this server vouched for a key that it is revoked, and what of its entries was taken in by then: those count on for who believes
 * this server, and nothing else that the key signs, whatever time it says. Such a ledger holds something that whose key it is did.
 */
async function tellRevoked(app: AppContext, key: string, person: string): Promise<void> {
  const own = await ledgerKey(app);
  const streams = await app.db
    .selectFrom("events")
    .innerJoin("change_sets", "change_sets.id", "events.stream")
    .innerJoin("repositories", "repositories.id", "change_sets.repository")
    .select(["events.stream", "change_sets.repository"])
    .distinct()
    .where("events.by", "=", person)
    .where("repositories.deleted_at", "is", null)
    .execute();
  for (const { stream, repository } of streams) {
    const folder = folderOf(app, { id: repository });
    await app.inTurn(`ledger ${stream}`, async () => {
      await settleLedger(folder, stream);
      const files = await ledgerFiles(folder, stream);
      if (!files.has(`vouched/${key}.${own.id}.json`)) return;
      const here = new Set((await eventsOf(app.db, stream)).map((event) => event.id));
      const entries = [...files].flatMap(([path, text]) => {
        const entry = path.startsWith("events/") ? readLedgerEntry(text) : null;
        return entry?.signature.key === key && here.has(entry.event.id) ? [entry.event.id] : [];
      });
      const told = { key, entries: entries.sort() };
      const value = own.sign(revokedText(told));
      const text = `${canonical({ ...told, signature: { key: own.id, value } })}\n`;
      // By what it says: nobody can put something else in its place beforehand.
      const name = createHash("sha256").update(text).digest("hex").slice(0, 16);
      const file: [string, string] = [`revoked/${key}.${own.id}.${name}.json`, text];
      const commit = { files: [file], author: "ledger", at: app.now(), message: "A key that is revoked\n" };
      await appendLedger(folder, stream, [commit]);
      await rememberLedger(folder, stream);
    });
  }
}
