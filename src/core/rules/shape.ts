import { visibleWords } from "../cautions/visible";
import { fitsWords } from "../pattern/pattern";
import { counted, inFigures } from "../plain/words";
import { type ChangeSet, newest } from "../review/state";
import { type Condition, plain } from "./condition";
import type { GateFacts } from "./facts";
import type { Rule } from "./rule";
import { moment } from "./rule-words";

/** What the change set is made of, and when it may go in: messages, history, size, time. */
export function shapeConditions(change: ChangeSet, rule: Rule, facts: GateFacts): Condition[] {
  const { commits, behind, toRead, workItems, now } = facts;
  const conditions: Condition[] = [];
  const say = (...given: Parameters<typeof plain>) => conditions.push(plain(...given));
  const push = "The author can push another revision.";
  if (rule.workItem) {
    const met = workItems.length > 0;
    say(
      "work-item",
      met,
      met
        ? `Linked to ${counted(workItems.length, "work item")}.`
        : `No work item is linked; ${change.target} asks for one.`,
      "The author or a keeper links one in the brief; or a commit says Closes: or Refs:.",
    );
  }
  if (rule.title !== null) {
    const met = fitsWords(change.title, rule.title);
    say(
      "title",
      met,
      met ? "The title is as it should be." : `The title has to read like “${rule.title}”.`,
      "The author or a keeper can change it.",
    );
  }
  if (rule.commits !== null) {
    const bad = commits.filter(({ subject, merge }) => !merge && !fitsWords(subject, rule.commits!));
    const met = bad.length === 0;
    say(
      "commits",
      met,
      met
        ? "The commit messages are as they should be."
        : `${counted(bad.length, "commit message")} ${bad.length === 1 ? "does" : "do"} not read like “${rule.commits}”: “${visibleWords(bad[0].subject)}”${bad.length > 1 ? " and others" : ""}.`,
      push,
    );
  }
  if (rule.signedOff) {
    const bad = commits.filter(({ signedOff, merge }) => !merge && !signedOff);
    const met = bad.length === 0;
    say(
      "signed-off",
      met,
      met
        ? "Every commit is signed off."
        : `${counted(bad.length, "commit")} ${bad.length === 1 ? "is" : "are"} not signed off: ${bad[0].id.slice(0, 8)}${bad.length > 1 ? " and others" : ""}.`,
      `${push} git commit --signoff, or git rebase --signoff, adds it.`,
    );
  }
  if (rule.linear) {
    const merges = commits.filter(({ merge }) => merge).length;
    say(
      "linear",
      merges === 0,
      merges === 0
        ? "The history is linear."
        : `${counted(merges, "merge commit")} in r${newest(change).number}; ${change.target} has a linear history.`,
      `${push} git rebase ${change.target} makes it linear.`,
    );
  }
  if (rule.upToDate) {
    say(
      "up-to-date",
      behind === 0,
      behind === 0
        ? `It has all of ${change.target}.`
        : `${counted(behind, "commit")} of ${change.target} ${behind === 1 ? "is" : "are"} not in it yet.`,
      `The author can bring ${change.target} in and push.`,
    );
  }
  if (rule.mostToRead !== null) {
    const met = toRead !== null && toRead <= rule.mostToRead;
    const much =
      toRead === null
        ? "How much there is to read is being counted."
        : `${counted(toRead, "line")} to read; ${change.target} takes ${inFigures(rule.mostToRead)} at most.`;
    say("load", met, much, toRead === null ? "It is known in a moment." : "The author can offer it in parts.");
  }
  const freeze = rule.freezes.find(({ from, until }) => now >= Date.parse(from) && now < Date.parse(until));
  if (freeze) {
    say(
      "freeze",
      false,
      `Frozen: ${change.target} takes nothing until ${moment(freeze.until)}: ${freeze.why.replace(/\.$/, "")}.`,
      `It opens by itself then; a keeper can end the freeze.`,
    );
  }
  return conditions;
}
