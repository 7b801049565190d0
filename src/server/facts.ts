import type { Facts } from "@/core/review/decide";
import type { ChangeSet } from "@/core/review/state";
import type { Queries } from "@/store/database";
import { type Person, reviewersOf, roleOf } from "./people";
import { ruleFor } from "./repositories";

/** What a decision about a change set needs to know beyond it: who asks, what the target asks, and who may give a verdict. */
export async function factsFor(db: Queries, change: ChangeSet, person: Person): Promise<Facts> {
  return {
    actor: {
      id: person.id,
      role: await roleOf(db, person.id, change.repository),
      machine: person.machine === 1,
    },
    rule: await ruleFor(db, change.repository, change.target),
    reviewers: await reviewersOf(db, change.repository),
  };
}
