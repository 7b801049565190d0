import { git, gitText } from "./run";

/** The ref of the ledger of a change set. */
export function ledgerRef(change: string): string {
  return `refs/lens/ledger/${change}`;
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
  const tip = await gitText(folder, ["rev-parse", "--verify", "--quiet", "--end-of-options", ref], { answers: [1] });
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
    if (i === 0 && tip !== "") put(`from ${tip}\n`);
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
export async function ledgerFiles(folder: string, change: string): Promise<Map<string, string>> {
  const listed = await gitText(folder, ["ls-tree", "-r", "--full-tree", "--end-of-options", ledgerRef(change)], {
    answers: [128],
  });
  const names = listed.split("\n").flatMap((line) => {
    const [, id, path] = /^100644 blob ([0-9a-f]{40,64})\t(.+)$/.exec(line) ?? [];
    return id ? [{ id, path }] : [];
  });
  if (names.length === 0) return new Map();
  const { stdout } = await git(folder, ["cat-file", "--batch"], { input: `${names.map(({ id }) => id).join("\n")}\n` });
  const files = new Map<string, string>();
  let at = 0;
  for (const { path } of names) {
    const end = stdout.indexOf(10, at);
    const size = Number(stdout.toString("latin1", at, end).split(" ")[2]);
    files.set(path, stdout.toString("utf8", end + 1, end + 1 + size));
    at = end + 2 + size;
  }
  return files;
}
