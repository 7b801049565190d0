import { ledgerTree, textsOf } from "./ledger-tree";
import { readerOf } from "./readers";
import { git, gitText } from "./run";

/** The ref of the ledger of a change set. */
export function ledgerRef(change: string): string {
  return `refs/lens/ledger/${change}`;
}

/** Where the commit of a revision is handed over that its branch does not hold any more, as after a rebase. */
export function handedRef(change: string, revision: number): string {
  return `refs/lens/handed/${change}/r${revision}`;
}

/** The change set whose commit is handed over by a ref; null for any other ref. */
export function handedFor(ref: string): string | null {
  return /^refs\/lens\/handed\/([0-9A-Z]{26})\/r[1-9]\d{0,5}$/.exec(ref)?.[1] ?? null;
}

/** The commits that were handed over for a change set. */
export async function handedCommits(folder: string, change: string): Promise<Set<string>> {
  return new Set((await handedRefs(folder, change)).map(([, id]) => id));
}

/** Lets go of what was handed over for a change set: what was taken of it is kept elsewhere. */
export async function dropHanded(folder: string, change: string): Promise<void> {
  const lines = (await handedRefs(folder, change)).map(([ref]) => `delete ${ref}\n`);
  if (lines.length > 0) await git(folder, ["update-ref", "--stdin"], { input: lines.join("") });
}

async function handedRefs(folder: string, change: string): Promise<[ref: string, id: string][]> {
  const place = `refs/lens/handed/${change}/`;
  const listed = await gitText(folder, [
    "for-each-ref",
    "--format=%(refname) %(objectname)",
    "--end-of-options",
    place,
  ]);
  return listed.split("\n").flatMap((line): [string, string][] => {
    const [ref, id] = line.split(" ");
    return id ? [[ref, id]] : [];
  });
}

/** A commit of a ledger: files that it adds, who did it and when (in milliseconds), and what it says. */
export interface LedgerCommit {
  files: Iterable<readonly [path: string, text: string]>;
  author: string;
  at: number;
  message: string;
}

/** Adds commits to a ledger, one behind the other, all or none: `refs/lens/ledger/ID` moves once. */
export async function appendLedger(folder: string, change: string, commits: readonly LedgerCommit[]): Promise<void> {
  if (commits.length === 0) return;
  const ref = ledgerRef(change);
  const tip = await readerOf(folder).commitOf(ref);
  const stream: Buffer[] = [];
  const put = (text: string) => void stream.push(Buffer.from(text));
  const data = (text: string) => {
    const bytes = Buffer.from(text);
    put(`data ${bytes.length}\n`);
    stream.push(bytes);
    put("\n");
  };
  for (const [i, { files, author, at, message }] of commits.entries()) {
    // What would end a name early is left out of it.
    const name = author.replace(/[<>\n\r\0]/g, "").trim() || "someone";
    put(`commit ${ref}\nmark :${i + 1}\ncommitter ${name} <> ${Math.floor(at / 1000)} +0000\n`);
    data(message);
    if (i === 0 && tip !== null) put(`from ${tip}\n`);
    if (i > 0) put(`from :${i}\n`);
    for (const [path, text] of files) {
      put(`M 100644 inline ${path}\n`);
      data(text);
    }
    put("\n");
  }
  put("done\n");
  await git(folder, ["fast-import", "--quiet", "--done"], { input: Buffer.concat(stream) });
}

/** The files of a ledger, by their paths; empty where there is none. */
export function ledgerFiles(folder: string, change: string): Promise<Map<string, string>> {
  return filesOf(folder, ledgerRef(change));
}

/** {@link ledgerFiles} of a commit that is, or may become, a ledger. */
export async function filesOf(folder: string, commit: string): Promise<Map<string, string>> {
  return textsOf(folder, (await ledgerTree(folder, commit)).blobs);
}

/** The ids of the change sets that have a ledger under a prefix of refs, such as `refs/lens/ledger`. */
export async function ledgersUnder(folder: string, prefix: string): Promise<string[]> {
  return [...(await ledgerTips(folder, prefix)).keys()];
}

/** {@link ledgersUnder}, each with the commit that it stands at. */
export async function ledgerTips(folder: string, prefix: string): Promise<Map<string, string>> {
  const listed = await gitText(folder, [
    ...["for-each-ref", "--format=%(objectname) %(refname)", "--end-of-options", prefix],
  ]);
  return new Map(
    listed.split("\n").flatMap((line): [string, string][] => {
      const [, tip, stream] = /^([0-9a-f]+) .*\/([0-9A-Z]{26})$/.exec(line) ?? [];
      return stream ? [[stream, tip]] : [];
    }),
  );
}

/**
 * Joins a ledger that came from elsewhere with one's own: the union of their files, of which one that is in both stays as it is here. Tells whether anything
 * came. A commit with two parents, unless one is a part of the other; any number of times, in any order, it comes to the same files.
 */
export function joinLedger(folder: string, change: string, from: string): Promise<boolean> {
  return joinInto(folder, ledgerRef(change), from);
}

async function joinInto(folder: string, ref: string, from: string): Promise<boolean> {
  const reader = readerOf(folder);
  const [own, other] = [await reader.commitOf(ref), await reader.commitOf(from)];
  if (other === null || own === other) return false;
  const { blobs: theirs, mixed } = await ledgerTree(folder, other);
  if (own === null && !mixed) {
    await git(folder, ["update-ref", ref, other, "0".repeat(other.length)]);
    return true;
  }
  const mine = own === null ? new Map<string, string>() : (await ledgerTree(folder, own)).blobs;
  const come = [...theirs].filter(([path]) => !mine.has(path));
  const isPart = async (a: string, b: string) =>
    (await git(folder, ["merge-base", "--is-ancestor", a, b], { answers: [1] })).code === 0;
  if (own !== null && (await isPart(other, own))) return false;
  // What is a part of the other goes on as that, where nothing in it was changed under the same name.
  const same = !mixed && [...mine].every(([path, id]) => theirs.get(path) === id);
  if (own !== null && same && (await isPart(own, other))) {
    await git(folder, ["update-ref", ref, other, own]);
    return come.length > 0;
  }
  const text = "Joined with what came from elsewhere\n";
  const lines = [
    `commit ${ref}\ncommitter ledger <> ${Math.floor(Date.now() / 1000)} +0000\ndata ${text.length}\n${text}`,
    own === null ? "" : `from ${own}\nmerge ${other}\n`,
    ...come.map(([path, id]) => `M 100644 ${id} ${path}\n`),
    "\ndone\n",
  ];
  await git(folder, ["fast-import", "--quiet", "--done"], { input: Buffer.from(lines.join("")) });
  return come.length > 0;
}

/**
 * Where a server remembers what it made of a ledger. Others can push to the ledger itself; nobody can push here, so that whatever they did there in the
 * meantime is joined and never built upon.
 */
function ownRef(change: string): string {
  return `refs/lens-ledger/${change}`;
}

/** Puts a ledger back to what the server made of it, where that is known; else to `before`, if given. Zeros: there was none. */
export async function settleLedger(folder: string, change: string, before?: string): Promise<void> {
  const reader = readerOf(folder);
  const ref = ledgerRef(change);
  const right = (await reader.commitOf(ownRef(change))) ?? before;
  if (right === undefined || right === (await reader.commitOf(ref))) return;
  await git(folder, /^0+$/.test(right) ? ["update-ref", "-d", ref] : ["update-ref", ref, right]);
}

/** Remembers what came as the ledger of a change set that is not here yet: it is nobody's to see until {@link settleLedger} puts it there. */
export async function rememberNew(folder: string, change: string, from: string): Promise<void> {
  await joinInto(folder, ownRef(change), from);
}

/** Takes a ledger away, and what is remembered of it. */
export async function forgetLedger(folder: string, change: string): Promise<void> {
  const input = `delete ${ledgerRef(change)}\ndelete ${ownRef(change)}\n`;
  await git(folder, ["update-ref", "--stdin"], { input });
}

/** Remembers a ledger as it is now, after {@link settleLedger} and what was added to it. */
export async function rememberLedger(folder: string, change: string): Promise<void> {
  await git(folder, ["update-ref", ownRef(change), ledgerRef(change)]);
}
