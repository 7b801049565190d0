import { counted, listed } from "../plain/words";
import type { MergeKind, Rule, Rules } from "./rule";

/** The ways in which a change set can become part of its target, in words. */
export const MERGE_WORDS: Record<MergeKind, string> = {
  merge: "a merge commit",
  squash: "one commit of all",
  rebase: "its commits on top of the target",
  forward: "moving the target forward",
};

/** A rule in sentences, as it is read by those whom it concerns. */
export function ruleWords(rule: Rule): string[] {
  const { count, share, author, lastPusher, makers, keep, from } = rule.approvals;
  const words: string[] = [];
  if (count === 0 && share === null) words.push("No approval is asked for.");
  else {
    const many = [
      count > 0 ? counted(count, "approval") : "",
      share === null ? "" : `${share} % of those asked`,
    ].filter((part) => part !== "");
    words.push(`${many.join(", and at least ")}${from === null ? "" : ` by ${listed(from)}`}.`);
    if (author) words.push("The author’s own approval counts.");
    if (lastPusher) words.push("The approval of who pushed last counts.");
    if (!makers) words.push("Nobody who made some of it can approve.");
    words.push(keep ? "Approvals stay when more is pushed." : "New work outdates approvals; a rebase alone does not.");
  }
  for (const { paths, of, needed } of rule.stewards)
    words.push(`${paths}: ${needed === 1 ? listed(of) : `${needed} of ${listed(of)}`} must agree.`);
  const settled = [
    rule.requests ? "requests for changes" : "",
    rule.threads ? "threads to settle" : "",
    rule.tasks ? "open tasks" : "",
  ].filter((part) => part !== "");
  if (settled.length > 0) words.push(`No ${settled.join(", no ")} may be left.`);
  if (rule.checks.length > 0)
    words.push(
      `Must pass: ${listed(rule.checks)}${rule.checksFrom === null ? "" : `, as told by ${listed(rule.checksFrom)}`}.`,
    );
  if (rule.workItem) words.push("A work item is linked.");
  if (rule.title !== null) words.push(`Titles read like “${rule.title}”.`);
  if (rule.commits !== null) words.push(`Commit messages read like “${rule.commits}”.`);
  if (rule.signedOff) words.push("Every commit is signed off.");
  if (rule.linear) words.push("The history is linear.");
  if (rule.upToDate) words.push("It has all of the target.");
  if (rule.mostToRead !== null) words.push(`At most ${counted(rule.mostToRead, "line")} to read.`);
  for (const { from: begins, until, why } of rule.freezes)
    words.push(`Frozen from ${moment(begins)} to ${moment(until)}: ${why}.`);
  words.push(
    `Merged by ${rule.merging.map((kind) => MERGE_WORDS[kind]).join(", or ")}; the source branch is ${rule.deleteSource ? "deleted" : "kept"}.`,
  );
  words.push(rule.direct ? "Pushes may also go straight there." : "Pushes cannot go straight there.");
  if (rule.passing) words.push("Keepers may pass the gate with a reason.");
  return words;
}

/** What is done to tags, and by whom. */
export const TAG_ACTIONS = { create: "made", move: "moved", delete: "deleted" } as const;
export const TAG_MAKERS = {
  contributor: "contributors and keepers",
  keeper: "keepers only",
  nobody: "nobody",
} as const;

export function tagWords(tags: Rules["tags"]): string[] {
  const actions = Object.keys(TAG_ACTIONS) as (keyof typeof TAG_ACTIONS)[];
  return actions.map((action) => `They are ${TAG_ACTIONS[action]} by ${TAG_MAKERS[tags[action]]}.`);
}

export function secondedWords({ seconded }: Pick<Rules, "seconded">): string {
  return seconded
    ? "What one keeper changes of them counts when a second one has agreed."
    : "Every keeper can change them alone.";
}

/** What one edition of rules says otherwise than another, in their sentences. */
export interface RulesDifference {
  /** The branches of a rule; or what else is meant, in words. */
  about: string;
  isBranch: boolean;
  gone: string[];
  come: string[];
}

/**
 * How two editions of rules differ, rule by rule, and in the order of those that both have: of two that fit a branch alike the first counts. What is said alike is
 * left out; empty where all of it is.
 *
 * @example rulesDifferences(before, after) // [{ about: "main", isBranch: true, gone: ["2 approvals."], come: ["No approval is asked for."] }]
 */
export function rulesDifferences(before: Rules, after: Rules): RulesDifference[] {
  const sentences = (rules: Rules, branches: string) =>
    rules.rules.filter((rule) => rule.branches === branches).flatMap(ruleWords);
  const branches = new Set([...before.rules, ...after.rules].map((rule) => rule.branches));
  const groups = (rules: Rules) =>
    Object.entries(rules.groups).map(([name, people]) => `@${name} is ${listed(people) || "nobody"}.`);
  const differ = (about: string, isBranch: boolean, was: string[], is: string[]): RulesDifference => ({
    about,
    isBranch,
    gone: was.filter((words) => !is.includes(words)),
    come: is.filter((words) => !was.includes(words)),
  });
  const order = (rules: Rules, others: Rules) => [
    rules.rules
      .map((rule) => rule.branches)
      .filter((name) => others.rules.some((rule) => rule.branches === name))
      .join(", "),
  ];
  return [
    ...[...branches].map((name) => differ(name, true, sentences(before, name), sentences(after, name))),
    differ("Order", false, order(before, after), order(after, before)),
    differ("Groups", false, groups(before), groups(after)),
    differ("Tags", false, tagWords(before.tags), tagWords(after.tags)),
    differ("These rules", false, [secondedWords(before)], [secondedWords(after)]),
  ].filter(({ gone, come }) => gone.length + come.length > 0);
}

/** "2026-12-24 18:00 UTC" */
export function moment(iso: string): string {
  return `${new Date(Date.parse(iso)).toISOString().slice(0, 16).replace("T", " ")} UTC`;
}
