import { readerOf } from "./readers";
import { Trees } from "./trees";

/** The folders of a ledger; beside them lies `format`. What else a commit holds is no part of one. */
const FOLDERS = /^(?:events|people|keys|pictures|vouched|revoked)$/;
const NAME = /^[0-9A-Za-z.]+$/;
const FILE = 0o100644;

/** What of a ledger lies in a commit. */
export interface LedgerTree {
  /** The ids of its files, by their paths. */
  blobs: ReadonlyMap<string, string>;
  /** Whether the commit holds anything else. */
  mixed: boolean;
}

/** Reads which files of a ledger a commit, or what a ref leads to, holds; none where there is no such commit. Two levels are looked at, whatever lies below. */
export async function ledgerTree(folder: string, at: string): Promise<LedgerTree> {
  const commit = await readerOf(folder).commitOf(at);
  const blobs = new Map<string, string>();
  if (commit === null) return { blobs, mixed: false };
  const trees = new Trees(readerOf(folder));
  let mixed = false;
  for (const top of await trees.list(commit)) {
    if (top.name === "format" && top.mode === FILE) blobs.set("format", top.id);
    else if (!top.isFolder || !FOLDERS.test(top.name)) mixed = true;
    else
      for (const { name, mode, id } of await trees.list(top.id)) {
        if (mode === FILE && NAME.test(name)) blobs.set(`${top.name}/${name}`, id);
        else mixed = true;
      }
  }
  return { blobs, mixed };
}

/** The texts of some files of a ledger, by their paths. */
export async function textsOf(folder: string, blobs: LedgerTree["blobs"]): Promise<Map<string, string>> {
  const reader = readerOf(folder);
  const texts = [...blobs].map(async ([path, id]) => [path, (await reader.read(id))?.toString("utf8") ?? ""] as const);
  return new Map(await Promise.all(texts));
}

/** How many files of a ledger a commit holds, and how many bytes in all; beyond `most` files those are not asked for. */
export async function sizeOfLedger(
  folder: string,
  at: string,
  most: number,
): Promise<{ files: number; bytes: number }> {
  const { blobs } = await ledgerTree(folder, at);
  if (blobs.size > most) return { files: blobs.size, bytes: 0 };
  const sizes = await Promise.all([...blobs.values()].map((id) => readerOf(folder).size(id)));
  return { files: blobs.size, bytes: sizes.reduce<number>((sum, size) => sum + (size ?? 0), 0) };
}
