import { wrongFormat } from "@/core/doors/ledger/ledger";
import { gitText } from "@/git/run";

/** Why a ledger that came cannot be read, by its format; null where it can. `at` is a commit or a ref. Such a one is joined with nothing, so that nothing is lost. */
export async function formatProblem(folder: string, at: string): Promise<string | null> {
  const text = await gitText(folder, ["cat-file", "blob", `${at}:format`], { answers: [128] });
  return wrongFormat(text === "" ? undefined : text);
}
