import type { Queries } from "@/store/database";
import type { RefMovesTable } from "@/store/tables/repositories";
import type { AppContext } from "../app/context";

/** A ref that goes from one commit to another; `old` or `next` are only zeros where there is none. */
export interface RefMove {
  ref: string;
  old: string;
  next: string;
}

/** Rows of one statement: SQLite takes so many values and no more. */
const AT_ONCE = 500;

/** Notes before git moves them who is moving refs, so that it is known also when the server dies before git has told that it did. */
export async function announceMoves(
  app: AppContext,
  repository: string,
  person: string,
  moves: readonly RefMove[],
  way: RefMovesTable["way"] = "push",
): Promise<void> {
  const at = app.now();
  for (let from = 0; from < moves.length; from += AT_ONCE)
    await app.db
      .insertInto("ref_moves")
      .values(
        moves.slice(from, from + AT_ONCE).map(({ ref, old, next }) => ({
          id: app.newId(),
          repository,
          ref,
          old,
          next,
          person,
          way,
          happened: 0,
          at,
        })),
      )
      .execute();
}

/** Notes that git has moved what was announced. */
export async function confirmMoves(
  app: AppContext,
  repository: string,
  person: string,
  moves: readonly RefMove[],
): Promise<void> {
  for (const { ref, old, next } of moves)
    await app.db
      .updateTable("ref_moves")
      .set({ happened: 1 })
      .where("repository", "=", repository)
      .where("ref", "=", ref)
      .where("old", "=", old)
      .where("next", "=", next)
      .where("person", "=", person)
      .where("happened", "=", 0)
      .execute();
}

/** Notes a move that was made here, in the transaction in which it is recorded. */
export async function noteMove(
  app: AppContext,
  db: Queries,
  move: RefMove & Pick<RefMovesTable, "repository" | "person" | "way">,
): Promise<void> {
  await db
    .insertInto("ref_moves")
    .values({ id: app.newId(), ...move, happened: 1, at: app.now() })
    .execute();
}

/** Who moved a branch to a commit last; undefined where that is not known, as of what was there when the repository was taken in. */
export async function pusherOf(
  db: Queries,
  repository: string,
  branch: string,
  commit: string,
): Promise<string | undefined> {
  const row = await db
    .selectFrom("ref_moves")
    .select("person")
    .where("repository", "=", repository)
    .where("ref", "=", `refs/heads/${branch}`)
    .where("next", "=", commit)
    .orderBy("happened", "desc")
    .orderBy("id", "desc")
    .limit(1)
    .executeTakeFirst();
  return row?.person ?? undefined;
}
