import { hasHiddenSigns } from "@/core/plain/names";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { WorkItemView } from "@/core/views/keeping-view";
import { peopleIn } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";

/** Where reasons for changes are kept. The one here is the small stand-in that ships with the product; another is put in its place here. */
export interface Tracker {
  /** Items by what they are called, without those that are not there. */
  named: (items: readonly string[]) => Promise<WorkItemView[]>;
  /** Open items first, the newest first; those whose number, title or text fits the words. */
  find: (words: string) => Promise<WorkItemView[]>;
  /** Ends an item, by a change set that was merged. Ended ones stay as they are. */
  close: (item: string, changeSet: string) => Promise<void>;
}

const MOST_FOUND = 50;

export function trackerOf(app: AppContext, repository: string): Tracker {
  const items = () =>
    app.db
      .selectFrom("work_items")
      .leftJoin("people", "people.id", "work_items.assignee")
      .leftJoin("change_sets", "change_sets.id", "work_items.closed_by")
      .select(["work_items.number", "work_items.title", "work_items.body", "work_items.state"])
      .select(["work_items.changed_at", "people.full_name", "change_sets.number as change"])
      .where("work_items.repository", "=", repository);
  const view = (row: Awaited<ReturnType<ReturnType<typeof items>["execute"]>>[number]): WorkItemView => ({
    ...{ item: String(row.number), title: row.title, body: row.body, state: row.state },
    ...{ person: row.full_name, closedBy: row.change, changedAt: row.changed_at },
  });
  return {
    named: async (names) => {
      const numbers = names.filter((name) => /^\d{1,9}$/.test(name)).map(Number);
      if (numbers.length === 0) return [];
      return (await items().where("work_items.number", "in", numbers).execute()).map(view);
    },
    find: async (words) => {
      const sought = `%${words.replaceAll(/[%_\\]/g, (sign) => `\\${sign}`)}%`;
      const number = /^#?(\d{1,9})$/.exec(words.trim())?.[1];
      let query = items();
      if (words.trim() !== "") {
        query = query.where((where) =>
          where.or([
            where.fn<boolean>("like", [where.val(sought), "work_items.title", where.val("\\")]),
            where.fn<boolean>("like", [where.val(sought), "work_items.body", where.val("\\")]),
            where("work_items.number", "=", Number(number ?? -1)),
          ]),
        );
      }
      const rows = await query
        .orderBy("work_items.state", "desc")
        .orderBy("work_items.number", "desc")
        .limit(MOST_FOUND)
        .execute();
      return rows.map(view);
    },
    close: async (item, changeSet) => {
      if (!/^\d{1,9}$/.test(item)) return;
      await app.db
        .updateTable("work_items")
        .set({ state: "done", closed_by: changeSet, changed_at: app.now() })
        .where("repository", "=", repository)
        .where("number", "=", Number(item))
        .where("state", "=", "open")
        .execute();
    },
  };
}

/** Writes a new item into the stand-in. */
export async function addWorkItem(
  app: AppContext,
  person: Person,
  repository: string,
  { title, body, assignee = null }: { title: string; body: string; assignee?: string | null },
): Promise<Outcome<string>> {
  if (title.trim() === "") return refuse("invalid", "A work item needs a title.");
  if (hasHiddenSigns(title.trim()))
    return refuse("invalid", "A title is one line, and holds no signs that cannot be seen.");
  if (title.length > 200) return refuse("invalid", "The title of a work item has at most 200 characters.");
  if (assignee !== null && !(await peopleIn(app.db, repository)).some(({ id, machine }) => id === assignee && !machine))
    return refuse("invalid", "An item can only be that of someone who sees this repository.");
  return app.db.transaction().execute(async (tx) => {
    const last = await tx
      .selectFrom("work_items")
      .select((select) => select.fn.max("number").as("last"))
      .where("repository", "=", repository)
      .executeTakeFirst();
    const number = (last?.last ?? 100) + 1;
    const now = app.now();
    await tx
      .insertInto("work_items")
      .values({
        ...{ repository, number, title: title.trim(), body, state: "open", by: person.id },
        ...{ assignee, at: now, changed_at: now, closed_by: null },
      })
      .execute();
    return done(String(number));
  });
}

/** Ends an item by hand, or opens it again. */
export async function setWorkItemState(
  app: AppContext,
  repository: string,
  item: string,
  state: "open" | "done",
): Promise<Outcome<null>> {
  const result = await app.db
    .updateTable("work_items")
    .set({ state, closed_by: null, changed_at: app.now() })
    .where("repository", "=", repository)
    .where("number", "=", /^\d{1,9}$/.test(item) ? Number(item) : -1)
    .executeTakeFirst();
  return Number(result.numUpdatedRows) > 0 ? done(null) : refuse("missing", "There is no such work item here.");
}
