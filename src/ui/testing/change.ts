import type { ChangeAnswer, ChangePart, MinePart } from "@/core/doors/endpoints/change-parts";
import type { EventData, EventName, ReviewEvent } from "@/core/review/events";
import { replay } from "@/core/review/evolve";
import { canLookAgain } from "@/core/review/families/asking";
import type { ChangeSet } from "@/core/review/state";
import { NO_FACTS } from "@/core/rules/facts";
import { evaluateGate } from "@/core/rules/gate";
import { makeRule } from "@/core/rules/rule";
import type { ReadingFile } from "@/core/views/api";

/** Change sets for tests of the page, made of events as the server makes them. */

export const PEOPLE = { ada: "Ada Quist", ben: "Ben Oram", cy: "Cy Tull", gauge: "Gauge" };
export type Name = keyof typeof PEOPLE;

export type Happening = { [K in EventName]: [by: Name, kind: K, data: EventData[K]] }[EventName];

/** Line 4 of `plan/hold.ts`, as r1 has it. */
export const ANCHOR = {
  ...{ kind: "lines" as const, revision: 1, blob: "b".repeat(40), side: "new" as const, path: "plan/hold.ts" },
  ...{ start: 4, end: 4, text: ["  return depth;"] },
};

/** A review with one remark, which opens the thread `t1`. */
export function remark(by: Name, body = "Deeper?"): Happening {
  const remarks = [{ thread: "t1", comment: "k1", anchor: ANCHOR, body }];
  return [by, "reviewed", { revision: 1, verdict: "none", remark: "", remarks }];
}

export function revised(by: Name, number: number): Happening {
  return [by, "revised", { revision: commits(number), how: "forward" }];
}

export function commits(number: number) {
  return { head: `head${number}`.padEnd(40, "0"), target: "target".padEnd(40, "0"), base: "base".padEnd(40, "0") };
}

/** A change set of Ada's to which all this happened. */
export function changeWith(happenings: Happening[]): ChangeSet {
  const opened = {
    repository: "repo",
    number: 3,
    title: "Hold a berth",
    description: "",
    source: "hold",
    target: "main",
  };
  const events = [["ada", "opened", { ...opened, revision: commits(1) }] as Happening, ...happenings].map(
    ([by, kind, data], i) =>
      ({ id: `e${i}`, stream: "c1", version: 1, at: Date.UTC(2026, 0, 5, 8, i), by, kind, data }) as ReviewEvent,
  );
  return replay(events)!;
}

/** What the server answers `me` about a change set of Ada's to which all this happened. */
export function answerFor(
  me: Name,
  happenings: Happening[] = [],
  mine: Partial<MinePart> = {},
): ChangeAnswer & { change: ChangePart } {
  const change = changeWith(happenings);
  const rule = makeRule("main");
  const people = Object.keys(PEOPLE).map((id) => ({
    ...{ id, name: id, role: "contributor" as const, machine: id === "gauge", owner: null },
  }));
  const { sentBy: _, ...told } = change;
  const yes = { may: true } as const;
  const no = { may: false, why: "That is for others." } as const;
  const author = me === change.author ? yes : no;
  return {
    change: { ...told, wordings: told.wordings.length, repository: "harbour", lookAgain: canLookAgain(change) },
    mine: {
      me: {
        ...{ id: me, role: "contributor", verdict: me === change.author ? no : yes, remark: yes, merge: author },
        ...{ retarget: author, describe: author, revise: author, withdraw: author, take: author, ask: author },
        ...{ ready: change.state === "draft" ? author : no, draft: change.state === "open" ? author : no },
        ...{ openAgain: no, pass: no, link: author, label: yes, lift: no },
      },
      ...{ unsent: [], picked: [], pickMessage: "", ...mine },
    },
    gate: {
      gate: evaluateGate(change, rule, { ...NO_FACTS, people, tip: change.revisions.at(-1)!.head }),
      rule,
      reviewers: ["ada", "ben", "cy"],
    },
    around: {
      people: Object.fromEntries(
        Object.entries(PEOPLE).map(([id, fullName]) => [
          id,
          { id, name: id, fullName, machine: id === "gauge", hue: 0, picture: null },
        ]),
      ),
      ...{
        chain: { on: null, under: [], notes: [] },
        workItems: [],
        allLabels: [],
        pathLabels: [],
        branchLeft: false,
        keptHere: null,
        ahead: null,
        histories: {},
        following: false,
      },
    },
  };
}

/** A file that was edited, with some lines to read. */
export function file(path: string, more: Partial<ReadingFile> = {}): ReadingFile {
  return {
    ...{ path, oldPath: null, oldId: "a".repeat(40), newId: "b".repeat(40), oldMode: 0o100644, newMode: 0o100644 },
    ...{ copy: false, similarity: null, binary: false, generated: null, counts: [2, 1], toRead: 3, quiet: {} },
    ...{ facts: [], cautions: [], lock: null, read: "unread", ...more },
  };
}
