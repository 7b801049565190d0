import { hasHiddenSigns } from "@/core/plain/names";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { WorkItemView } from "@/core/views/keeping-view";
import { peopleIn } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import type { MergedChange, Tracker } from "./tracker";

const MOST_FOUND = 50;

/** The small tracker that ships with the product. Its items are numbers. */
export class OwnTracker implements Tracker {
  readonly elsewhere = null;

  constructor(
    private readonly app: AppContext,
    private readonly repository: string,
  ) {}

  private items() {
    return this.app.db
      .selectFrom("work_items")
      .leftJoin("people", "people.id", "work_items.assignee")
      .leftJoin("change_sets", "change_sets.id", "work_items.closed_by")
      .select(["work_items.number", "work_items.title", "work_items.body", "work_items.state"])
      .select(["work_items.changed_at", "people.full_name", "change_sets.number as change"])
      .where("work_items.repository", "=", this.repository);
  }

  async named(names: readonly string[]): Promise<Outcome<WorkItemView[]>> {
    const numbers = names.filter((name) => /^\d{1,9}$/.test(name)).map(Number);
    if (numbers.length === 0) return done([]);
    return done((await this.items().where("work_items.number", "in", numbers).execute()).map(viewOf));
  }

  async find(words: string): Promise<Outcome<WorkItemView[]>> {
    const sought = `%${words.replaceAll(/[%_\\]/g, (sign) => `\\${sign}`)}%`;
    const number = /^#?(\d{1,9})$/.exec(words.trim())?.[1];
    let query = this.items();
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
    return done(rows.map(viewOf));
  }

  async add(
    person: Person,
    { title, body, assignee = null }: { title: string; body: string; assignee?: string | null },
  ): Promise<Outcome<string>> {
    const { app, repository } = this;
    if (title.trim() === "") return refuse("invalid", "A work item needs a title.");
    if (hasHiddenSigns(title.trim()))
      return refuse("invalid", "A title is one line, and holds no signs that cannot be seen.");
    if (title.length > 200) return refuse("invalid", "The title of a work item has at most 200 characters.");
    if (
      assignee !== null &&
      !(await peopleIn(app.db, repository)).some(({ id, machine }) => id === assignee && !machine)
    )
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
          repository,
          number,
          title: title.trim(),
          body,
          state: "open",
          by: person.id,
          assignee,
          at: now,
          changed_at: now,
          closed_by: null,
        })
        .execute();
      return done(String(number));
    });
  }

  async setState(_person: Person, item: string, state: "open" | "done"): Promise<Outcome<null>> {
    const result = await this.app.db
      .updateTable("work_items")
      .set({ state, closed_by: null, changed_at: this.app.now() })
      .where("repository", "=", this.repository)
      .where("number", "=", /^\d{1,9}$/.test(item) ? Number(item) : -1)
      .executeTakeFirst();
    return Number(result.numUpdatedRows) > 0 ? done(null) : refuse("missing", "There is no such work item here.");
  }

  async merged(item: string, closes: boolean, { id }: MergedChange): Promise<void> {
    if (!closes || !/^\d{1,9}$/.test(item)) return;
    await this.app.db
      .updateTable("work_items")
      .set({ state: "done", closed_by: id, changed_at: this.app.now() })
      .where("repository", "=", this.repository)
      .where("number", "=", Number(item))
      .where("state", "=", "open")
      .execute();
  }
}

interface ItemRow {
  number: number;
  title: string;
  body: string;
  state: "open" | "done";
  changed_at: number;
  full_name: string | null;
  change: number | null;
}

function viewOf({ number, title, body, state, changed_at, full_name, change }: ItemRow): WorkItemView {
  return {
    item: String(number),
    title,
    body,
    state,
    person: full_name,
    closedBy: change,
    changedAt: changed_at,
    address: null,
  };
}
