import type { RevisionFacts, RevisionKind } from "@/core/review/shapes";
import { isAncestor } from "@/git/history/commits";
import { isStraight, sameSeries } from "@/git/history/series";
import type { AppContext } from "../../app/context";
import { filesBetween } from "../../reading/files-between";
import { carriedTo } from "../../reading/since";

/**
 * How a revision came of the one before, and whether the author's work in it is the same: a rewritten history that leads to the same and
 * holds nothing besides. New commits are new work, also when what they lead to is the same: one may put in what the next takes out.
 */
export async function tellRevision(
  app: AppContext,
  folder: string,
  before: RevisionFacts,
  after: RevisionFacts,
): Promise<{ how: RevisionKind; same: boolean; resultSame: boolean }> {
  const forward = await isAncestor(folder, before.head, after.head);
  const back = !forward && (await isAncestor(folder, after.head, before.head));
  const how = forward ? "forward" : back ? "back" : before.base === after.base ? "rewritten" : "rebased";
  const { id, conflicts } = await carriedTo(app, folder, before, after);
  const differ = await filesBetween(app, folder, { from: id, to: after.head });
  const resultSame = conflicts.length === 0 && differ.length === 0;
  const same =
    resultSame &&
    !forward &&
    ((await sameSeries(folder, before, after)) || (await isStraight(folder, after.base, after.head)));
  return { how, same, resultSame: resultSame && !same };
}
