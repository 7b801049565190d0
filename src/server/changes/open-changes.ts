import type { ChangeSet } from "@/core/review/state";
import type { Queries } from "@/store/database";
import { loadChangeSets } from "@/store/log";
import { madeOnce } from "@/store/made-once";

/** The number of the open change set from one branch into another; null when there is none. */
export async function openFor(
  db: Queries,
  repository: { id: string },
  source: string,
  target: string,
): Promise<number | null> {
  const row = await db
    .selectFrom("change_sets")
    .select("number")
    .where("repository", "=", repository.id)
    .where("source", "=", source)
    .where("target", "=", target)
    .where("state", "in", ["open", "draft"])
    .executeTakeFirst();
  return row?.number ?? null;
}

/** What lists know of the open change sets that have a branch on one side, the oldest first. */
export function openLines(db: Queries, repository: string, side: "source" | "target", branch: string) {
  return db
    .selectFrom("change_sets")
    .select(["id", "number", "title", "state"])
    .where("repository", "=", repository)
    .where(side, "=", branch)
    .where("state", "in", ["open", "draft"])
    .orderBy("number")
    .execute();
}

/** What lists know of the open change sets that offer one branch, and of those that are offered to another, the oldest first. */
export function openAround(db: Queries, repository: string, { offer, into }: { offer: string; into: string }) {
  return madeOnce(db, `open around ${repository} ${offer} ${into}`, async () => {
    const lines = await db
      .selectFrom("change_sets")
      .select(["id", "number", "title", "state", "source", "target"])
      .where("repository", "=", repository)
      .where("state", "in", ["open", "draft"])
      .where((eb) => eb.or([eb("source", "=", offer), eb("target", "=", into)]))
      .orderBy("number")
      .execute();
    return {
      offering: lines.filter(({ source }) => source === offer),
      into: lines.filter(({ target }) => target === into),
    };
  });
}

/** The open change sets that have a branch as their source or as their target, the oldest first. */
export async function openWith(
  db: Queries,
  repository: string,
  side: "source" | "target",
  branch: string,
): Promise<ChangeSet[]> {
  const rows = await openLines(db, repository, side, branch);
  return loadChangeSets(
    db,
    rows.map(({ id }) => id),
  );
}
