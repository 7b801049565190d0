import type { Queries } from "@/store/database";
import type { AuditTable } from "@/store/schema";
import type { Lens } from "../lens";

/** What is written down of what people do to the installation, in the words in which it is shown. */
export const AUDITED = {
  "signed-in": "signed in",
  "sign-in-refused": "could not sign in",
  "signed-out": "signed out",
  "session-ended": "ended a session",
  "token-made": "made a token",
  "token-dropped": "took a token away",
  "role-set": "set a role",
  "rules-saved": "saved rules",
  pushed: "pushed",
  "gate-passed": "passed the gate",
  "repository-added": "added a repository",
  "repository-fetched": "fetched into a repository",
  "person-added": "added a person",
  "password-set": "set a password",
  "person-disabled": "disabled a person",
  "person-enabled": "enabled a person",
  "person-changed": "changed a person",
  "administrator-set": "made or unmade an administrator",
  "backup-made": "made a backup",
} as const;
export type Audited = keyof typeof AUDITED;

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
  lens: Lens,
  { person, address }: Doer,
  what: Audited,
  about: Record<string, string | number | boolean | null>,
  db: Queries = lens.db,
): Promise<void> {
  const row: AuditTable = {
    id: lens.newId(),
    at: lens.now(),
    person,
    what,
    about: JSON.stringify(about),
    address: address.slice(0, 100),
  };
  await db.insertInto("audit").values(row).execute();
}

export interface AuditEntry {
  id: string;
  at: number;
  /** The name with which they sign in; null for the command line, and where nobody is known. */
  person: string | null;
  what: string;
  about: Record<string, string | number | boolean | null>;
  address: string;
}

/** What was written down, the newest first; `before` is the id of an entry to go on from. */
export async function auditEntries(
  lens: Lens,
  { most, before, oldestFirst = false }: { most: number; before?: string; oldestFirst?: boolean },
): Promise<AuditEntry[]> {
  let query = lens.db
    .selectFrom("audit")
    .leftJoin("people", "people.id", "audit.person")
    .select(["audit.id", "audit.at", "people.name", "audit.what", "audit.about", "audit.address"])
    .orderBy("audit.id", oldestFirst ? "asc" : "desc")
    .limit(most);
  if (before) query = query.where("audit.id", oldestFirst ? ">" : "<", before);
  const rows = await query.execute();
  return rows.map(({ id, at, name, what, about, address }) => ({
    ...{ id, at, person: name, what, address },
    about: JSON.parse(about) as AuditEntry["about"],
  }));
}
