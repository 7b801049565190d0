import { canonical } from "@/core/doors/ledger/canonical";
import { provenEntries } from "@/core/doors/ledger/ledger";
import { counted } from "@/core/plain/words";
import { commandAgain } from "@/core/review/again";
import type { ReviewEvent } from "@/core/review/events";
import {
  appendLedger,
  dropHanded,
  forgetLedger,
  joinLedger,
  ledgerFiles,
  ledgersUnder,
  rememberLedger,
  rememberNew,
  settleLedger,
} from "@/git/ledger";
import { eventsOf, loadChangeSet } from "@/store/log";
import { personById, roleOf } from "../access/people";
import type { Person } from "../access/person";
import { folderOf, nameOfRepository } from "../access/repositories";
import { type AppContext, MOST_AHEAD } from "../app/context";
import { addressOf } from "../app/settings";
import { transact } from "../changes/deciding";
import { readKeys } from "./brought";
import { formatProblem, sizeProblem } from "./format";
import { wrongTime } from "./intake";
import { ledgerKey, proverOf, type Vouched, vouchedText } from "./keys";
import { writeLedger } from "./ledgers";
import { openHanded, reviseHanded } from "./offered";
import { noteUsed, type Signer, signedHere, signersHere } from "./signers";

/**
 * What a push into a ledger means where a server decides. The ref becomes the union of what it was and what came, so that nothing that was there is changed or
 * lost, however the pushed history looks. An entry that somebody's own clone signed is then decided again, as theirs, by the rules and roles of now; it keeps
 * its id and its time. Gives the lines for the terminal.
 */
export async function takeHanded(
  app: AppContext,
  repository: { id: string },
  pushed: { stream: string; old: string; next: string },
): Promise<string[]> {
  try {
    return await takeLedger(app, repository, pushed);
  } finally {
    await dropHanded(folderOf(app, repository), pushed.stream);
  }
}

async function takeLedger(
  app: AppContext,
  repository: { id: string },
  { stream, old, next }: { stream: string; old: string; next: string },
): Promise<string[]> {
  const folder = folderOf(app, repository);
  const change = await loadChangeSet(app.db, stream);
  const known = change?.repository === repository.id;
  const inTurn = <T>(action: () => Promise<T>) => app.inTurn(`ledger ${stream}`, action);
  await inTurn(() => (known ? settleLedger(folder, stream, old) : forgetLedger(folder, stream)));
  if (change && !known) return [`The ledger ${stream} is of no change set here.`];
  const wrong = (await sizeProblem(folder, next)) ?? (await formatProblem(folder, next));
  if (wrong !== null) return [`The ledger ${stream} was left alone: ${wrong}.`];
  if (!known) {
    const opened = await inTurn(async () => {
      // Remembered before it is opened, and seen afterwards: with the plug pulled in between it is either not here, or here as it was signed.
      await rememberNew(folder, stream, next);
      const outcome = await openHanded(app, repository, stream, next);
      await (outcome.ok ? settleLedger(folder, stream) : forgetLedger(folder, stream));
      return outcome;
    });
    if (!opened.ok) return [`The ledger ${stream} is of no change set here: ${opened.refusal.reason}`];
    const { number, title } = opened.value.change;
    const address = `${addressOf(app.settings)}/r/${await nameOfRepository(app.db, repository.id)}/c/${number}`;
    const { said } = await decideAgain(app, repository, folder, stream, [opened.value.key]);
    return [`Change set ${number}, “${title}”, is offered here: ${address}`, ...said];
  }
  // What happened here is in it first: nothing that comes can stand in its place.
  await writeLedger(app, stream);
  await inTurn(async () => {
    await settleLedger(folder, stream);
    await joinLedger(folder, stream, next);
    await rememberLedger(folder, stream);
  });
  return (await decideAgain(app, repository, folder, stream)).said;
}

/** Looks again at what a key signed that lies in the ledgers already: it has become somebody's. Gives how many entries were taken in. */
export async function takeWaiting(app: AppContext, person: Person, key: string): Promise<number> {
  let many = 0;
  for (const { id } of await app.db.selectFrom("repositories").select("id").where("deleted_at", "is", null).execute()) {
    if ((await roleOf(app.db, person.id, id)) === null) continue;
    const folder = folderOf(app, { id });
    for (const stream of await ledgersUnder(folder, "refs/lens/ledger")) {
      if (!(await loadChangeSet(app.db, stream)) || !(await ledgerFiles(folder, stream)).has(`keys/${key}.json`))
        continue;
      many += (await decideAgain(app, { id }, folder, stream)).many;
    }
  }
  return many;
}

/** `vouched` are keys of which something was taken in already. */
async function decideAgain(
  app: AppContext,
  repository: { id: string },
  folder: string,
  stream: string,
  vouched: readonly string[] = [],
) {
  const files = await ledgerFiles(folder, stream);
  const signers = await signersHere(app);
  const events = [...files].filter(([path]) => path.startsWith("events/"));
  const proves = proverOf([...signers.values()].map((one) => one.public));
  const log = await eventsOf(app.db, stream);
  const began = log[0].id;
  const here = new Set(log.map(({ id }) => id));
  const came = events.filter(([path]) => !here.has(path.slice("events/".length, -".json".length)));
  const { proven, leftOut } = provenEntries(stream, came, proves);
  const strangers = new Set(leftOut.map(({ id }) => id));
  const keys = readKeys(files);
  const unknown = provenEntries(stream, came, proverOf([...keys.values()])).proven.filter(({ event }) =>
    strangers.has(event.id),
  );
  const numbered = (await loadChangeSet(app.db, stream))!.number;
  const said: string[] = [];
  const taken = new Set(vouched);
  let many = 0;
  const newest = proven.findLast(({ event }) => event.kind === "revised")?.event;
  for (const { event, signature } of proven) {
    const why =
      wrongTime(event, began, app.now(), MOST_AHEAD) ??
      (await takeOne(app, repository, event as unknown as ReviewEvent, signers.get(signature.key)!, event === newest));
    if (why === undefined) continue;
    if (why === null) {
      many++;
      taken.add(signature.key);
    } else said.push(`Left out ${event.id}: ${why}`);
  }
  if (many > 0) said.unshift(`Change set ${numbered}: ${counted(many, "entry", "entries")} taken in.`);
  await vouch(
    app,
    folder,
    stream,
    files,
    [...taken].map((key) => ({ key, person: signers.get(key)!.person })),
  );
  const told = new Set(unknown.map(({ event }) => event.id));
  for (const { id, why } of leftOut) if (!told.has(id)) said.push(`Left out ${id}: ${why}.`);
  for (const key of new Set(unknown.map(({ signature }) => signature.key)))
    said.push(
      `Left out ${counted(unknown.filter(({ signature }) => signature.key === key).length, "entry", "entries")} of the key ${key}, which is nobody’s here: whose it is says so with lens key, on the page “Tokens and sessions”.`,
    );
  return { many, said };
}

/** Says in the ledger whose keys they are, so that who believes this server believes them. */
async function vouch(
  app: AppContext,
  folder: string,
  stream: string,
  known: ReadonlyMap<string, string>,
  keys: readonly Vouched[],
): Promise<void> {
  const own = await ledgerKey(app);
  const files: [string, string][] = [];
  for (const one of keys) {
    const signature = { key: own.id, value: own.sign(vouchedText(one)) };
    files.push([`vouched/${one.key}.${own.id}.json`, `${canonical({ ...one, signature })}\n`]);
    const person = await personById(app.db, one.person);
    if (!person) continue;
    const { id, name, fullName } = person;
    files.push([`people/${id}.json`, `${canonical({ id, name, fullName })}\n`]);
  }
  const fresh = files.filter(([path]) => !known.has(path));
  if (fresh.length === 0) return;
  const commit = { files: fresh, author: "ledger", at: app.now(), message: "Whose clones they are\n" };
  await app.inTurn(`ledger ${stream}`, async () => {
    await settleLedger(folder, stream);
    await appendLedger(folder, stream, [commit]);
    await rememberLedger(folder, stream);
  });
}

/** Carries out what an entry tells, as whoever the key belongs to; why not, or null. Undefined where it is so already. */
async function takeOne(
  app: AppContext,
  repository: { id: string },
  event: ReviewEvent,
  signer: Signer,
  isNewest: boolean,
): Promise<string | null | undefined> {
  const signed = await signedHere(app, repository, event, signer);
  if (!signed.ok) return signed.refusal.reason;
  const { person, here } = signed.value;
  if (here.kind === "revised") return reviseHanded(app, person, here, isNewest);
  const command = commandAgain(here);
  if (!command) return `what it tells (${event.kind}) is decided on this server alone.`;
  for (const id of new Set(JSON.stringify(here.data).match(/(?<="person":")[^"]+(?=")/g) ?? []))
    if (!(await personById(app.db, id))) return "it names somebody who is not here.";
  const outcome = await transact(app, person, event.stream, command, { as: here });
  if (!outcome.ok) return outcome.refusal.reason;
  await noteUsed(app, signer);
  return null;
}
