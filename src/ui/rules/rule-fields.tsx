"use client";
import { MERGE_KINDS, type Rule, type Rules } from "@/core/rules/rule";
import { MERGE_WORDS } from "@/core/rules/rule-words";
import { Amount, List, Moment, Part, Remove, Tick, Words } from "./rule-inputs";

/** Every condition of one rule, to be changed. What is empty is not asked for. */
export function RuleFields({
  rule,
  people,
  groups,
  onChange,
}: {
  rule: Rule;
  people: string[];
  groups: Rules["groups"];
  onChange: (rule: Rule) => void;
}) {
  const set = (said: Partial<Rule>) => onChange({ ...rule, ...said });
  const approvals = (said: Partial<Rule["approvals"]>) => set({ approvals: { ...rule.approvals, ...said } });
  const known = [...people, ...Object.keys(groups).map((name) => `@${name}`)];
  const tick = (
    label: string,
    key: keyof Rule &
      (
        | "requests"
        | "threads"
        | "tasks"
        | "workItem"
        | "signedOff"
        | "linear"
        | "upToDate"
        | "deleteSource"
        | "passing"
        | "direct"
      ),
  ) => <Tick label={label} on={rule[key]} onChange={(on) => set({ [key]: on })} />;
  return (
    <div className="mt-3 grid gap-5">
      <Part title="Branches">
        <Words
          label="A name, or a pattern: * within a part, ** across parts"
          value={rule.branches}
          mono
          onChange={(branches) => set({ branches: branches ?? "" })}
        />
        {tick("pushes may also go straight there", "direct")}
      </Part>
      <Part title="Approvals">
        <div className="grid grid-cols-3 items-end gap-3">
          <Amount
            label="How many"
            value={rule.approvals.count}
            onChange={(count) => approvals({ count: count ?? 0 })}
          />
          <Amount
            label="Percent of those asked"
            value={rule.approvals.share}
            onChange={(share) => approvals({ share })}
          />
          <List
            label="Whose: names, @groups, contributor, keeper"
            value={rule.approvals.from ?? []}
            known={known}
            onChange={(from) => approvals({ from: from.length > 0 ? from : null })}
          />
        </div>
        <Tick label="stay when more is pushed" on={rule.approvals.keep} onChange={(keep) => approvals({ keep })} />
        <Tick
          label="who pushed last cannot approve"
          on={!rule.approvals.lastPusher}
          onChange={(not) => approvals({ lastPusher: !not })}
        />
        <Tick
          label="nobody can approve who made some of it: committed, pushed or suggested"
          on={!rule.approvals.makers}
          onChange={(not) => approvals({ makers: !not })}
        />
        <Tick label="the author’s own counts" on={rule.approvals.author} onChange={(author) => approvals({ author })} />
      </Part>
      <Part title="Stewards: who must agree to changes under some paths">
        {rule.stewards.map((steward, i) => {
          const change = (said: Partial<typeof steward>) => set({ stewards: withOne(rule.stewards, i, said) });
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: they have no other name
            <div key={i} className="grid grid-cols-[1fr_1fr_90px_auto] items-end gap-3">
              <Words label="Paths" value={steward.paths} mono onChange={(paths) => change({ paths: paths ?? "" })} />
              <List label="Stewards" value={steward.of} known={known} onChange={(of) => change({ of })} />
              <Amount label="How many" value={steward.needed} onChange={(needed) => change({ needed: needed ?? 1 })} />
              <Remove onRemove={() => set({ stewards: rule.stewards.toSpliced(i, 1) })} />
            </div>
          );
        })}
        <button
          type="button"
          className="button justify-self-start text-[13px]"
          onClick={() => set({ stewards: [...rule.stewards, { paths: "", of: [], needed: 1 }] })}
        >
          Add stewards …
        </button>
      </Part>
      <Part title="Said and done">
        {tick("no request for changes stands", "requests")}
        {tick("threads are settled", "threads")}
        {tick("tasks are done", "tasks")}
        {tick("a work item is linked", "workItem")}
        <div className="grid grid-cols-2 items-end gap-3">
          <List label="Checks that must pass" value={rule.checks} known={[]} onChange={(checks) => set({ checks })} />
          <List
            label="As told by these machine accounts; empty: by those of keepers"
            value={rule.checksFrom ?? []}
            known={[]}
            onChange={(from) => set({ checksFrom: from.length > 0 ? from : null })}
          />
        </div>
      </Part>
      <Part title="What it is made of">
        <div className="grid grid-cols-3 items-end gap-3">
          <Words label="Titles read like (* is anything)" value={rule.title} onChange={(title) => set({ title })} />
          <Words label="Commit messages read like" value={rule.commits} onChange={(commits) => set({ commits })} />
          <Amount
            label="Lines to read at most"
            value={rule.mostToRead}
            onChange={(mostToRead) => set({ mostToRead })}
          />
        </div>
        {tick("every commit is signed off", "signedOff")}
        {tick("the history is linear", "linear")}
        {tick("it has all of the target", "upToDate")}
      </Part>
      <Part title="Freezes">
        {rule.freezes.map((freeze, i) => {
          const change = (said: Partial<typeof freeze>) => set({ freezes: withOne(rule.freezes, i, said) });
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: they have no other name
            <div key={i} className="grid grid-cols-[1fr_1fr_1.5fr_auto] items-end gap-3">
              <Moment label="From (UTC)" value={freeze.from} onChange={(from) => change({ from })} />
              <Moment label="Until (UTC)" value={freeze.until} onChange={(until) => change({ until })} />
              <Words label="Why" value={freeze.why} onChange={(why) => change({ why: why ?? "" })} />
              <Remove onRemove={() => set({ freezes: rule.freezes.toSpliced(i, 1) })} />
            </div>
          );
        })}
        <button
          type="button"
          className="button justify-self-start text-[13px]"
          onClick={() => {
            const now = new Date();
            const from = `${now.toISOString().slice(0, 16)}:00Z`;
            const until = `${new Date(now.getTime() + 86_400_000).toISOString().slice(0, 16)}:00Z`;
            set({ freezes: [...rule.freezes, { from, until, why: "" }] });
          }}
        >
          Add a freeze …
        </button>
      </Part>
      <Part title="Merging">
        <div className="flex flex-wrap gap-x-6">
          {MERGE_KINDS.map((kind) => (
            <Tick
              key={kind}
              label={MERGE_WORDS[kind]}
              on={rule.merging.includes(kind)}
              onChange={(on) =>
                set({ merging: on ? [...rule.merging, kind] : rule.merging.filter((other) => other !== kind) })
              }
            />
          ))}
        </div>
        {tick("the source branch is deleted afterwards", "deleteSource")}
        {tick("keepers may pass the gate, with a reason", "passing")}
      </Part>
    </div>
  );
}

/** A list in which one entry says something else. */
function withOne<T>(list: readonly T[], at: number, said: Partial<T>): T[] {
  return list.map((old, i) => (i === at ? { ...old, ...said } : old));
}
