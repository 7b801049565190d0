import { GitEnded } from "@/git/run";
import { TOO_MANY } from "@/git/trees";
import { BrokenLog } from "@/store/log";
import { TooBusy, TookTooLong, TookTooMuch } from "../workers/workers";

/** Errors that say themselves what is to be told. */
const SAID = [BrokenLog, GitEnded, TookTooLong, TookTooMuch, TooBusy];

/** What went wrong with the data folder, or within it, in a sentence for the person; null for what was not foreseen. */
export function troubleOf(error: unknown): string | null {
  if (error instanceof Error && SAID.some((kind) => error instanceof kind)) return error.message;
  const words = error instanceof Error ? `${(error as NodeJS.ErrnoException).code ?? ""} ${error.message}` : "";
  if (words.includes(TOO_MANY)) return TOO_MANY;
  if (
    /ENOSPC|EDQUOT|EFBIG|SQLITE_FULL|SQLITE_IOERR|No space left|disk quota|database or disk is full|disk I\/O/i.test(
      words,
    )
  )
    return "The data folder cannot take any more: its disk is full. Nothing was changed; reading goes on.";
  if (/EROFS|EACCES|SQLITE_READONLY|readonly database|read-only file system|Permission denied/i.test(words))
    return "The data folder cannot be written to. Nothing was changed; reading goes on.";
  return null;
}
