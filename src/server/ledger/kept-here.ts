import { entryPath } from "@/core/doors/ledger/ledger";
import { addTo } from "@/core/plain/grouped";
import type { ReviewEvent } from "@/core/review/events";
import type { ChangeSet } from "@/core/review/state";
import { gitText } from "@/git/run";
import { eventsOf } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

/**
 * What happened to change sets of a clone that no other repository was given yet, by their ids; null where that means nothing: on a server, and in a clone
 * that has nobody to give anything to.
 */
export async function keptHere(
  app: AppContext,
  changes: readonly ChangeSet[],
): Promise<Map<string, ReviewEvent[]> | null> {
  const [first] = changes;
  if (!app.settings.alone || !first) return null;
  const folder = folderOf(app, { id: first.repository });
  if ((await gitText(folder, ["remote"])) === "") return null;
  const listed = await gitText(folder, ["for-each-ref", "--format=%(objectname) %(refname)", "refs/lens/from"]);
  const given = new Map<string, string[]>();
  for (const line of listed.split("\n")) {
    const [, tip, stream] = /^([0-9a-f]+) refs\/lens\/from\/[^/]+\/ledger\/([0-9A-Z]{26})$/.exec(line) ?? [];
    if (stream) addTo(given, stream, tip);
  }
  const kept = new Map<string, ReviewEvent[]>();
  for (const { id } of changes) {
    const known = await Promise.all((given.get(id) ?? []).map((tip) => pathsAt(app, folder, tip)));
    const events = await eventsOf(app.db, id);
    kept.set(
      id,
      events.filter((event) => !known.some((paths) => paths.has(entryPath(event.id)))),
    );
  }
  return kept;
}

const PATHS_OF_LEDGERS = shelf<Set<string>>("paths of ledgers", 500);

/** The paths of a ledger as it was at a commit, which never change. */
function pathsAt(app: AppContext, folder: string, tip: string): Promise<Set<string>> {
  return PATHS_OF_LEDGERS(app).get(tip, async () => {
    const names = await gitText(folder, ["ls-tree", "-r", "--name-only", "--full-tree", "--end-of-options", tip]);
    return new Set(names.split("\n"));
  });
}

/** Ids of the comments that entries brought. */
export function commentsIn(events: readonly ReviewEvent[]): string[] {
  const ids: string[] = [];
  const look = (value: unknown): void => {
    if (typeof value !== "object" || value === null) return;
    if ("comment" in value && typeof value.comment === "string") ids.push(value.comment);
    for (const member of Object.values(value)) look(member);
  };
  for (const { data } of events) look(data);
  return ids;
}
