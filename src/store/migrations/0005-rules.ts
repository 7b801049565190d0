import type { Kysely } from "kysely";

interface Before {
  rules: { repository: string; branch: string; approvals: number; settled: number };
  rule_sets: { repository: string; version: number; by: string | null; at: number; note: string; rules: string };
  repositories: { id: string; default_branch: string };
}

export async function up(db: Kysely<Before>): Promise<void> {
  await db.schema
    .createTable("rule_sets")
    .addColumn("repository", "text", (c) => c.notNull().references("repositories.id"))
    .addColumn("version", "integer", (c) => c.notNull())
    .addColumn("by", "text")
    .addColumn("at", "integer", (c) => c.notNull())
    .addColumn("note", "text", (c) => c.notNull())
    .addColumn("rules", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("rule_sets_key", ["repository", "version"])
    .execute();
  // What was one number for a branch becomes a whole rule. A branch without any asked for one approval.
  const old = await db.selectFrom("rules").selectAll().execute();
  for (const { id, default_branch } of await db.selectFrom("repositories").select(["id", "default_branch"]).execute()) {
    const own = old.filter(({ repository }) => repository === id);
    const named = own.some(({ branch }) => branch === default_branch);
    const rest = own.find(({ branch }) => branch === "*");
    const given = own.filter(({ branch }) => branch !== "*");
    if (!named)
      given.push({
        repository: id,
        branch: default_branch,
        approvals: rest?.approvals ?? 1,
        settled: rest?.settled ?? 1,
      });
    const whole = (branches: string, approvals: number, settled: number, direct: boolean) => ({
      branches,
      direct,
      approvals: { count: approvals },
      threads: settled === 1,
      tasks: settled === 1,
    });
    const rules = given.map(({ branch, approvals, settled }) => whole(branch, approvals, settled, false));
    rules.push(whole("**", rest?.approvals ?? 1, rest?.settled ?? 1, true));
    await db
      .insertInto("rule_sets")
      .values({
        repository: id,
        version: 1,
        by: null,
        at: 0,
        note: "Taken over.",
        rules: JSON.stringify({ version: 1, rules }),
      })
      .execute();
  }
  await db.schema.dropTable("rules").execute();
  await db.schema
    .alterTable("change_sets")
    .addColumn("merge_asked", "integer", (c) => c.notNull().defaultTo(0))
    .execute();
  await db.schema
    .alterTable("merge_intents")
    .addColumn("kind", "text", (c) => c.notNull().defaultTo("merge"))
    .execute();
  await db.schema.alterTable("merge_intents").addColumn("passing", "text").execute();
  await db.schema
    .createTable("reports")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("change_set", "text", (c) => c.notNull())
    .addColumn("result", "text", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("work_items")
    .addColumn("repository", "text", (c) => c.notNull().references("repositories.id"))
    .addColumn("number", "integer", (c) => c.notNull())
    .addColumn("title", "text", (c) => c.notNull())
    .addColumn("body", "text", (c) => c.notNull())
    .addColumn("state", "text", (c) => c.notNull())
    .addColumn("by", "text", (c) => c.notNull())
    .addColumn("assignee", "text")
    .addColumn("at", "integer", (c) => c.notNull())
    .addColumn("changed_at", "integer", (c) => c.notNull())
    .addColumn("closed_by", "text")
    .addPrimaryKeyConstraint("work_items_key", ["repository", "number"])
    .execute();
}
