import { canonical } from "@/core/doors/ledger/canonical";
import { entryOf, entryPath, FORMAT, signedText } from "@/core/doors/ledger/ledger";
import type { ReviewEvent } from "@/core/review/events";
import { kindOf } from "@/core/review/evolve";
import { offersBranch } from "@/core/review/state";
import { appendLedger, type LedgerCommit, ledgerFiles, rememberLedger, settleLedger } from "@/git/ledger";
import { eventsOf, loadChangeSet } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { FollowsLog } from "../app/follows-log";
import { ledgerKey } from "./keys";
import { tellRevocations } from "./revoking";

const EVERY = 5_000;

/**
 * Writes what happens to change sets into their repositories, as ledgers: whoever has a clone has the reviews, signed, and needs no server to read
 * them. Nothing private is in the log, so nothing private comes into one.
 */
export class Ledgers extends FollowsLog {
  constructor(app: AppContext) {
    super(app, { name: "ledger", every: EVERY, failing: "a ledger could not be written" });
  }

  protected override async handle({ stream }: ReviewEvent): Promise<void> {
    await writeLedger(this.app, stream);
  }

  protected override afterwards(): Promise<void> {
    return tellRevocations(this.app);
  }
}

/** Brings the ledger of a change set up to what the log has of it; gives how many entries came. One commit for each entry, by who did it. */
export function writeLedger(app: AppContext, stream: string): Promise<number> {
  return app.inTurn(`ledger ${stream}`, async () => {
    const change = await loadChangeSet(app.db, stream);
    const repository = change
      ? await app.db.selectFrom("repositories").selectAll().where("id", "=", change.repository).executeTakeFirst()
      : undefined;
    if (!change || !repository || repository.ledger === 0 || repository.deleted_at !== null) return 0;
    if (!offersBranch(change)) return 0;
    const folder = folderOf(app, { id: repository.id });
    // Into a clone nobody pushes: its owner moves refs there as they like.
    if (!app.settings.alone) await settleLedger(folder, stream);
    const known = await ledgerFiles(folder, stream);
    const all = await eventsOf(app.db, stream);
    const events = all.filter(({ id }) => !known.has(entryPath(id)));
    if (events.length === 0) return 0;
    const people = await app.db.selectFrom("people").select(["id", "name", "full_name"]).execute();
    const names = new Map(people.map((one) => [one.id, one]));
    const key = await ledgerKey(app);
    const gone = erasedIn(all);
    const commits = events.map((event): LedgerCommit => {
      const entry = withoutErased(entryOf(event), gone);
      const value = key.sign(signedText(entry));
      const files: [string, string][] = [
        ["format", `${FORMAT}\n`],
        [`keys/${key.id}.json`, `${canonical({ kind: "ed25519", public: key.public })}\n`],
        [entryPath(event.id), `${canonical({ event: entry, signature: { key: key.id, value } })}\n`],
      ];
      for (const person of peopleIn(event, names)) files.push([`people/${person.id}.json`, `${canonical(person)}\n`]);
      const name = (id: string) => names.get(id)?.full_name ?? "someone";
      return {
        files: files.filter(([path, text]) => known.get(path) !== text),
        author: name(event.by),
        at: event.at,
        message: `${kindOf(event).says(event, { change, name, address: "" })}\n`,
      };
    });
    await appendLedger(folder, stream, commits);
    if (!app.settings.alone) await rememberLedger(folder, stream);
    return events.length;
  });
}

interface Named {
  id: string;
  name: string;
  fullName: string;
}

/** Everyone whom an entry names, wherever it does: so that who reads it knows who that is. */
function peopleIn(event: ReviewEvent, names: ReadonlyMap<string, { name: string; full_name: string }>): Named[] {
  const text = JSON.stringify([event.by, event.data]);
  const ids = new Set(text.match(/(?<=")[0-9A-Z]{26}(?=")/g) ?? []);
  return [...ids].flatMap((id) => {
    const person = names.get(id);
    return person ? [{ id, name: person.name, fullName: person.full_name }] : [];
  });
}

/** Ids of comments that were deleted before they came into the ledger: what they said does not come into it at all. */
function erasedIn(events: readonly ReviewEvent[]): Set<string> {
  return new Set(events.flatMap((event) => (event.kind === "erased" ? [event.data.comment] : [])));
}

function withoutErased<T>(value: T, gone: ReadonlySet<string>): T {
  if (Array.isArray(value)) return value.map((one) => withoutErased(one, gone)) as T;
  if (typeof value !== "object" || value === null) return value;
  const members = Object.fromEntries(
    Object.entries(value).map(([name, member]) => [name, withoutErased(member, gone)]),
  );
  if ("body" in members && typeof members.comment === "string" && gone.has(members.comment)) {
    members.body = "";
    if ("suggestions" in members) members.suggestions = [];
  }
  return members as T;
}
