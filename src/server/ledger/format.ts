import { wrongFormat } from "@/core/doors/ledger/ledger";
import { gitText } from "@/git/run";

/** Why a ledger that came cannot be read, by its format; null where it can. `at` is a commit or a ref. Such a one is joined with nothing, so that nothing is lost. */
export async function formatProblem(folder: string, at: string): Promise<string | null> {
  const text = await gitText(folder, ["cat-file", "blob", `${at}:format`], { answers: [128] });
  return wrongFormat(text === "" ? undefined : text);
}

/** So much is read of a ledger that comes, in files and in bytes. */
const MOST_FILES = 60_000;
const MOST_BYTES = 64 * 1024 * 1024;

/** Why a ledger that came is not read, by its size; null where it is. */
export function sizeProblem({ files, bytes }: { files: number; bytes: number }): string | null {
  return files > MOST_FILES || bytes > MOST_BYTES ? "it is larger than a review can be" : null;
}
