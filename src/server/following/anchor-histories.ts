import { type Anchor, pathOf } from "@/core/anchor/anchor";
import { type AnchorHistory, beginTrack } from "@/core/anchor/anchor-history";
import { type ChangeSet, newest, type Thread } from "@/core/review/state";
import type { Unsent } from "@/core/views/api";
import { blobAt } from "@/git/repository";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { tryToKeep } from "../reading/worked-out";
import type { Followed, Follower, RevisionStep } from "./follow-tracks";

/** Raise it when lines are followed in another way than before: what was kept is then made anew. */
const FOLLOWER = 2;

const ANCHOR_HISTORIES = shelf<Record<string, AnchorHistory>>("anchor histories", 200);

/**
 * What became of the lines of each thread since it was written, by thread. Kept in the database, and followed on from there when a
 * revision has come; threads of the newest revision are left out.
 */
export function historiesOf(
  app: AppContext,
  folder: string,
  change: ChangeSet,
): Promise<Record<string, AnchorHistory>> {
  const { number } = newest(change);
  const older = change.threads.filter(({ anchor }) => isBehind(anchor, number));
  if (older.length === 0) return Promise.resolve({});
  const key = `${change.id}\0${number}\0${change.threads.length}`;
  return ANCHOR_HISTORIES(app).get(key, () =>
    app.inTurn(`anchor histories ${change.id}`, () => followOn(app, folder, change, older)),
  );
}

const UNSENT_HISTORIES = shelf<Record<string, AnchorHistory>>("unsent histories", 200);

/**
 * The same of remarks that somebody has written and not sent, by the id of the remark. Where they are is remembered, and not kept: what is
 * private stands in one table alone.
 */
export function unsentHistoriesOf(
  app: AppContext,
  folder: string,
  change: ChangeSet,
  unsent: readonly Unsent[],
): Promise<Record<string, AnchorHistory>> {
  const { number } = newest(change);
  const older = unsent.filter((note) => note.kind === "remark").filter(({ anchor }) => isBehind(anchor, number));
  if (older.length === 0) return Promise.resolve({});
  const key = [change.id, number, ...older.map(({ id }) => id)].join("\0");
  return UNSENT_HISTORIES(app).get(key, async () => {
    const begun = await Promise.all(older.map((note) => begin(folder, change, note)));
    const followers = begun.filter((one) => one !== null);
    if (followers.length === 0) return {};
    return historiesIn(await app.workers.follow({ folder, steps: stepsOf(change), followers }));
  });
}

/** Whether there is a way to follow: what stands in a file, written before the newest revision. */
function isBehind(anchor: Anchor, newest: number): boolean {
  return pathOf(anchor) !== null && anchor.revision < newest;
}

function historiesIn(followed: readonly Followed[]): Record<string, AnchorHistory> {
  const told = followed.filter(({ positions }) => positions.length > 0);
  return Object.fromEntries(told.map(({ id, side, positions }) => [id, { side, positions }]));
}

async function followOn(
  app: AppContext,
  folder: string,
  change: ChangeSet,
  threads: readonly Thread[],
): Promise<Record<string, AnchorHistory>> {
  const { number } = newest(change);
  const rows = await app.db
    .selectFrom("anchor_histories")
    .select(["thread", "result"])
    .where("change_set", "=", change.id)
    .where("follower", "=", FOLLOWER)
    .execute();
  const known = new Map(rows.map(({ thread, result }) => [thread, JSON.parse(result) as Followed]));
  const behind: Followed[] = [];
  for (const thread of threads) {
    const kept = known.get(thread.id);
    if (kept?.track.position.revision === number) continue;
    const begun = kept ?? (await begin(folder, change, thread));
    if (begun) behind.push({ positions: [], ...begun });
  }
  if (behind.length > 0) {
    const followed = await app.workers.follow({ folder, steps: stepsOf(change), followers: behind });
    const before = new Map(behind.map(({ id, positions }) => [id, positions]));
    const whole = followed.map((one) => ({ ...one, positions: [...before.get(one.id)!, ...one.positions] }));
    for (const one of whole) known.set(one.id, one);
    const keeping = app.db.transaction().execute(async (tx) => {
      for (const one of whole) {
        const row = { follower: FOLLOWER, result: JSON.stringify(one) };
        await tx
          .insertInto("anchor_histories")
          .values({ thread: one.id, change_set: change.id, ...row })
          .onConflict((conflict) => conflict.columns(["change_set", "thread"]).doUpdateSet(row))
          .execute();
      }
    });
    await tryToKeep(app, "where threads are", keeping);
  }
  return historiesIn(threads.flatMap(({ id }) => known.get(id) ?? []));
}

function stepsOf({ revisions }: ChangeSet): RevisionStep[] {
  return revisions.slice(1).map((after, i) => {
    const before = revisions[i];
    return {
      revision: after.number,
      old: { from: before.base, to: after.base },
      new: { from: before.head, to: after.head },
    };
  });
}

/**
 * From where the lines of a thread are to be followed. Those of an old text are lines of the base, or of an earlier revision that was
 * compared with. Null where they are in neither, and nothing can be told of them.
 */
async function begin(
  folder: string,
  change: ChangeSet,
  { id, anchor }: { id: string; anchor: Anchor },
): Promise<Follower | null> {
  if (anchor.kind !== "lines" && anchor.kind !== "file") return null;
  const { path, blob, revision } = anchor;
  const written =
    anchor.kind === "lines"
      ? { path, start: anchor.start, end: anchor.end, text: anchor.text }
      : { path, start: 1, end: 0, text: [] };
  const at = (number: number) => beginTrack(written, number);
  if (anchor.side === "new") return { id, side: "new", track: at(revision) };
  const { base } = change.revisions[revision - 1];
  if ((await blobAt(folder, base, path)) === blob) return { id, side: "old", track: at(revision) };
  for (let number = revision; number >= 1; number--) {
    const { head } = change.revisions[number - 1];
    if ((await blobAt(folder, head, path)) === blob) return { id, side: "new", track: at(number) };
  }
  return null;
}
