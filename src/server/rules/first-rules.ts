import type { Queries } from "@/store/database";

/** What a new repository begins with: its main branch asks for one approval, and so does any other that something is offered to. */
export async function beginRules(
  db: Queries,
  { id, defaultBranch }: { id: string; defaultBranch: string },
  at: number,
): Promise<void> {
  const rules = { version: 1, rules: [{ branches: defaultBranch }, { branches: "**", direct: true }] };
  await db
    .insertInto("rule_sets")
    .values({
      repository: id,
      version: 1,
      by: null,
      at,
      note: "As every repository begins.",
      rules: JSON.stringify(rules),
    })
    .execute();
}
