import type { Block } from "../../doors/mail/blocks";
import type { ChangeSet } from "../state";
import type { Telling } from "./family";

/** A merge that was asked for and waits for the gate: it is of what stood there when it was asked for. */

/** It falls, and who asked is told why: what it was asked for is not what would be merged. */
export function fall(
  { mergeAsked }: ChangeSet,
  at: number,
  why: string,
): Pick<ChangeSet, "mergeAsked" | "mergeFailed"> {
  if (!mergeAsked) return { mergeAsked: null, mergeFailed: null };
  const again = "Look at it, and ask again if it is still meant to be merged by itself.";
  return { mergeAsked: null, mergeFailed: { why: `${why}. ${again}`, at, asker: mergeAsked.by } };
}

/** Who asked for the merge that fell with an event, unless they did it themselves. */
export function askerOfFallen({ mergeFailed }: ChangeSet, { by, at }: { by: string; at: number }): string[] {
  return mergeFailed?.at === at && mergeFailed.asker !== by ? [mergeFailed.asker] : [];
}

/** For a message about the event that a merge fell with. */
export function wordsOfFallen({ at }: { at: number }, { change: { mergeFailed } }: Telling): Block[] {
  if (mergeFailed?.at !== at) return [];
  return [{ kind: "words", words: `It is not merged by itself any more. ${mergeFailed.why}` }];
}
