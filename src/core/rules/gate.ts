import { visible } from "../cautions/visible";
import { counted, listed } from "../plain/words";
import { type ChangeSet, goesOn, newest } from "../review/state";
import { approvalsCondition, stewardConditions } from "./approvals";
import { checkConditions } from "./checks";
import { type Condition, plain } from "./condition";
import type { GateFacts } from "./facts";
import type { Rule } from "./rule";
import { shapeConditions } from "./shape";
import { talkConditions } from "./talk";

/** The rule of a branch, evaluated for a change set as it is now. */
export interface Gate {
  open: boolean;
  conditions: Condition[];
}

/** Pure: the same change set, rule and facts give the same gate, in the same words, wherever it is asked. */
export function evaluateGate(change: ChangeSet, rule: Rule, facts: GateFacts): Gate {
  const approvals = approvalsCondition(change, rule, facts);
  const conditions = [
    ...(change.state === "draft" ? [draftCondition(change)] : []),
    ...movedOnCondition(change, facts),
    ...conflictsCondition(change, facts),
    ...(approvals ? [approvals] : []),
    ...stewardConditions(change, rule, facts),
    ...talkConditions(change, rule),
    ...checkConditions(change, rule, facts),
    ...shapeConditions(change, rule, facts),
  ];
  return { open: conditions.every(({ met }) => met), conditions };
}

/** Spoken of only where there are any: no rule can do without it. */
function conflictsCondition({ target, source }: ChangeSet, { conflicts }: GateFacts): Condition[] {
  if (conflicts.length === 0) return [];
  const where = `${listed(conflicts.slice(0, 3).map(visible))}${conflicts.length > 3 ? " …" : ""}`;
  const says = `It conflicts with ${target} in ${counted(conflicts.length, "file")}: ${where}.`;
  return [plain("conflicts", false, says, `The author can bring ${target} into ${source} and push.`)];
}

/** What is merged is what was looked at: the newest revision. While the branch stands elsewhere, that is not what its people mean. */
function movedOnCondition(change: ChangeSet, { tip }: GateFacts): Condition[] {
  const { head, number } = newest(change);
  if (!goesOn(change) || tip === undefined || tip === head) return [];
  const { source } = change;
  if (tip === null)
    return [plain("moved-on", false, `The branch ${source} is gone.`, `Push ${source} again, or withdraw it.`)];
  return [
    plain(
      "moved-on",
      false,
      `The branch has moved on: ${source} stands at ${tip.slice(0, 8)}, and r${number} is ${head.slice(0, 8)}.`,
      "Record what is there as the next revision, or push what is meant.",
    ),
  ];
}

function draftCondition({ author }: ChangeSet): Condition {
  return { ...plain("draft", false, "It is a draft.", "Its author says when it is ready."), canMeet: [author] };
}
