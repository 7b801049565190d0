import { evolve } from "@/core/review/evolve";
import type { Verdict } from "@/core/review/shapes";
import { type ChangeSet, newest } from "@/core/review/state";
import { evaluateGate, type Gate } from "@/core/rules/gate";
import type { Person } from "../access/person";
import type { Lens } from "../app/lens";
import { factsFor } from "../rules/facts";
import { gatherReview } from "./unsent";

/** How the gate would stand if a person sent what they have not sent, with a verdict on the newest revision. Nothing is written. */
export async function gateAfter(lens: Lens, person: Person, change: ChangeSet, verdict: Verdict): Promise<Gate> {
  const { rule, gate } = await factsFor(lens, lens.db, change, person);
  const gathered = await gatherReview(lens, lens.db, person, change.id);
  const after = evolve(change, {
    ...{ id: "then", stream: change.id, kind: "reviewed", version: 1, by: person.id, at: lens.now() },
    data: { revision: newest(change).number, verdict, remark: "", ...gathered },
  });
  return evaluateGate(after, rule, gate);
}
