import { wrongFormat } from "@/core/doors/ledger/ledger";
import { ledgerTree, sizeOfLedger, textsOf } from "@/git/ledger-tree";

/** Why a ledger that came cannot be read, by its format; null where it can. `at` is a commit or a ref. Such a one is joined with nothing, so that nothing is lost. */
export async function formatProblem(folder: string, at: string): Promise<string | null> {
  const { blobs } = await ledgerTree(folder, at);
  const texts = await textsOf(folder, new Map([...blobs].filter(([path]) => path === "format")));
  return wrongFormat(texts.get("format"));
}

/** So much is read of a ledger that comes, in files and in bytes. */
const MOST_FILES = 60_000;
const MOST_BYTES = 64 * 1024 * 1024;

/** Why a ledger that came is not read, by its size; null where it is. `at` is a commit or a ref. */
export async function sizeProblem(folder: string, at: string): Promise<string | null> {
  const { files, bytes } = await sizeOfLedger(folder, at, MOST_FILES);
  return files > MOST_FILES || bytes > MOST_BYTES ? "it is larger than a review can be" : null;
}
