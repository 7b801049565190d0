import { evolve } from "@/core/review/evolve";
import type { Verdict } from "@/core/review/shapes";
import { type ChangeSet, newest } from "@/core/review/state";
import { evaluateGate, type Gate } from "@/core/rules/gate";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { factsFor } from "../rules/facts";
import { gatherReview } from "./unsent";

/** How the gate would stand if a person sent what they have not sent, with a verdict on the newest revision. Nothing is written. */
export async function gateAfter(app: AppContext, person: Person, change: ChangeSet, verdict: Verdict): Promise<Gate> {
  const { rule, gate } = await factsFor(app, app.db, change, person);
  const gathered = await gatherReview(app, app.db, person, change.id);
  const after = evolve(change, {
    id: "then",
    stream: change.id,
    kind: "reviewed",
    version: 1,
    by: person.id,
    at: app.now(),
    data: { revision: newest(change).number, verdict, remark: "", ...gathered },
  });
  return evaluateGate(after, rule, gate);
}
