import type { DeskView } from "@/core/views/desk-view";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import { anyOf } from "@/store/project";
import type { Person } from "../access/person";
import { type Repository, repositoriesOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { Look } from "../rules/facts";
import { linesOf } from "./lines";

const LATELY = 12;
const LISTS = { me: "forMe", them: "forThem", could: "couldBe", none: "elsewhere" } as const;
/** So many are looked at with which somebody has nothing to do so far, those that changed last. */
const MOST_BESIDES = 100;
/** So many of those that they have to do with, and of those in which they may be needed as a steward. */
const MOST_OWN = 2_000;

interface Wanted {
  /** Those of one repository alone. */
  only?: Repository;
  /** Those that one person offers. */
  author?: string;
  /** Also those with which the person has nothing to do, however many. */
  whole?: boolean;
  /** The repositories that the person sees, where they are known already. */
  seen?: readonly Repository[];
}

/** Where a person starts: what waits for them and why, what they wait for, what was settled lately. */
export async function desk(app: AppContext, person: Person, wanted: Wanted = {}): Promise<DeskView> {
  const { only, seen = await repositoriesOf(app, person) } = wanted;
  const repositories = seen.filter(({ id }) => !only || id === only.id);
  const view: DeskView = { forMe: [], forThem: [], couldBe: [], elsewhere: [], settled: [], more: 0, counting: false };
  if (repositories.length === 0) return view;
  const nameOf = new Map(repositories.map(({ id, name }) => [id, name]));
  const look = new Look(app.db);
  const stewarding: string[] = [];
  for (const { id } of repositories) if (await look.isSteward(person, id)) stewarding.push(id);
  const { ids, settled, more } = await idsFor(app.db, person, [...nameOf.keys()], stewarding, wanted);
  view.more = more;
  const lines = await linesOf(app, person, [...ids, ...settled], nameOf, look);
  for (const { line, place, counting } of lines) {
    view.counting ||= counting;
    if (place) view[LISTS[place.waits]].push(line);
    else view.settled.push(line);
  }
  return view;
}

/**
 * The open change sets that are worth a look, the one that changed last first: all that somebody has to do with, all of those `stewarding`, in
 * which they may be needed as a steward, and some of the others; how many of those were left out; and what was settled lately.
 */
function idsFor(
  db: Queries,
  person: Person,
  all: readonly string[],
  stewarding: readonly string[],
  { author, whole = false }: Wanted,
): Promise<{ ids: string[]; settled: string[]; more: number }> {
  const name = `desk of ${person.id} in ${all.join(" ")}, ${stewarding.join(" ")}, ${author}, ${whole}`;
  return madeOnce(db, name, async () => {
    const inThese = (these: readonly string[]) =>
      db
        .selectFrom("change_sets")
        .where("repository", "in", these)
        .where("state", "in", ["open", "draft"])
        .$if(author !== undefined, (query) => query.where("author", "=", author!));
    const newestFirst = (these: readonly string[], most: number) =>
      inThese(these).select(["id", "changed_at"]).orderBy("changed_at", "desc").limit(most);
    const names = [person.id, anyOf("contributor"), anyOf("keeper")];
    const own = await newestFirst(all, MOST_OWN)
      .where("id", "in", (inner) =>
        inner.selectFrom("change_set_people").select("change_set").where("person", "in", names),
      )
      .execute();
    const guarded = stewarding.length > 0 ? await newestFirst(stewarding, MOST_OWN).execute() : [];
    const most = whole ? MOST_OWN : MOST_BESIDES;
    const others = await newestFirst(all, most + own.length + guarded.length).execute();
    const found = new Map([...own, ...guarded].map((row) => [row.id, row.changed_at]));
    let besides = 0;
    for (const { id, changed_at } of others)
      if (!found.has(id) && besides < most) {
        found.set(id, changed_at);
        besides++;
      }
    const { many } = await inThese(all)
      .select((select) => select.fn.countAll<number>().as("many"))
      .executeTakeFirstOrThrow();
    const ids = [...found].sort(([, a], [, b]) => b - a).map(([id]) => id);
    const settled = await db
      .selectFrom("change_sets")
      .select("id")
      .where("repository", "in", all)
      .where("state", "in", ["merged", "withdrawn"])
      .orderBy("settled_at", "desc")
      .limit(LATELY)
      .execute();
    return { ids, settled: settled.map(({ id }) => id), more: Math.max(0, many - ids.length) };
  });
}
