import { createHash } from "node:crypto";
import { canonical } from "@/core/doors/ledger/canonical";
import { readLedgerEntry } from "@/core/doors/ledger/ledger";
import { appendLedger, ledgerFiles, ledgersUnder, rememberLedger, settleLedger } from "@/git/ledger";
import { eventsOf } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { ledgerKey, revokedText } from "./keys";

/**
 * Says in every ledger in which this server vouched for a key that it is revoked, and what of its entries was taken in by then: those count on for who believes
 * this server, and nothing else that the key signs, whatever time it says.
 */
export async function tellRevoked(app: AppContext, key: string): Promise<void> {
  const own = await ledgerKey(app);
  for (const { id } of await app.db.selectFrom("repositories").select("id").where("deleted_at", "is", null).execute()) {
    const folder = folderOf(app, { id });
    for (const stream of await ledgersUnder(folder, "refs/lens/ledger"))
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
