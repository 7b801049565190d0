import type { AuditEntry, Audited } from "@/core/views/access-view";
import type { Queries } from "@/store/database";
import type { AuditTable } from "@/store/tables/access";
import type { AppContext } from "../app/context";

/** Who does something, and from where. */
export interface Doer {
  /** Null for the command line, and where nobody is known. */
  person: string | null;
  /** A network address, or {@link COMMAND_LINE}. */
  address: string;
}
export const COMMAND_LINE: Doer = { person: null, address: "command line" };

/** Writes down that something was done; `about` are the things it was done to, by name. Never holds a secret. */
export async function audit(
  app: AppContext,
  { person, address }: Doer,
  what: Audited,
  about: Record<string, string | number | boolean | null>,
  db: Queries = app.db,
): Promise<void> {
  const row: AuditTable = {
    id: app.newId(),
    at: app.now(),
    person,
    what,
    about: JSON.stringify(about),
    address: address.slice(0, 100),
  };
  await db.insertInto("audit").values(row).execute();
}

/** What was written down, the newest first; `before` is the id of an entry to go on from. */
export async function auditEntries(
  app: AppContext,
  { most, before, oldestFirst = false }: { most: number; before?: string; oldestFirst?: boolean },
): Promise<AuditEntry[]> {
  let query = app.db
    .selectFrom("audit")
    .leftJoin("people", "people.id", "audit.person")
    .select(["audit.id", "audit.at", "people.name", "audit.what", "audit.about", "audit.address"])
    .orderBy("audit.id", oldestFirst ? "asc" : "desc")
    .limit(most);
  if (before) query = query.where("audit.id", oldestFirst ? ">" : "<", before);
  const rows = await query.execute();
  return rows.map(({ id, at, name, what, about, address }) => ({
    id,
    at,
    person: name,
    what,
    address,
    about: JSON.parse(about) as AuditEntry["about"],
  }));
}
