import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { evaluateGate } from "../rules/gate";
import { makeRule } from "../rules/rule";
import type { Command } from "./families/table";
import { placeOf, withMore, withOne } from "./families/thread-places";
import { newest, type Thread } from "./state";
import { anchor, commits, facts, Log, rule } from "./testing/log";

describe("a list of threads", () => {
  const one = (id: string, said = 0) => ({ id, said }) as unknown as Thread;
  const step = fc.record({ from: fc.nat(), id: fc.constantFrom("a", "b", "c", "d"), more: fc.boolean() });

  it("is what is made of it, whatever other histories began where it did", () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
        const lists: (readonly Thread[])[] = [[one("z")]];
        for (const [n, { from, id, more }] of steps.entries()) {
          const list = lists[from % lists.length];
          const has = list.some((thread) => thread.id === id);
          if (more && has) continue;
          const next = more ? withMore(list, [one(id)]) : withOne(list, id, () => one(id, n));
          const plain = more ? [...list, one(id)] : list.map((thread) => (thread.id === id ? one(id, n) : thread));
          expect(next).toEqual(plain);
          lists.push(next);
        }
        for (const list of lists)
          for (const id of ["a", "b", "c", "d", "z"])
            expect(placeOf(list, id)).toBe(list.findIndex((thread) => thread.id === id));
      }),
    );
  });
});

describe("a thread", () => {
  const last = (log: Log) => log.change.threads[0].comments.at(-1)!;
  it("keeps what was said before an edit, a trace of what was deleted, and each word of agreement once", () => {
    const log = new Log();
    log.review("ben", "none", "t1");
    const ids = { thread: "t1", comment: "t1-1" };
    expect(log.try("ada", { kind: "edit", ...ids, body: "No." })).toMatch(/Only who wrote/);
    expect(log.try("ben", { kind: "edit", ...ids, body: "Why not?" })).toBe("");
    expect(last(log)).toMatchObject({ body: "Why not?", edits: [{ body: "Why?" }] });
    expect(log.try("ada", { kind: "react", ...ids, reaction: "agreed", on: true })).toBe("");
    expect(log.try("ada", { kind: "react", ...ids, reaction: "agreed", on: true })).toMatch(/said so already/);
    expect(last(log).reactions).toEqual({ agreed: ["ada"] });
    expect(log.try("rea", { kind: "erase", ...ids })).toMatch(/Only who wrote/);
    expect(log.try("ben", { kind: "erase", ...ids })).toBe("");
    expect(last(log)).toMatchObject({ body: "", edits: [], erased: { by: "ben" } });
    expect(log.try("ben", { kind: "edit", ...ids, body: "Back" })).toMatch(/was deleted/);
    expect(log.try("ben", { kind: "resolve", thread: "t1", comment: "k", body: "Settled by talking." })).toBe("");
    expect(last(log).body).toBe("Settled by talking.");
  });

  it("holds the gate shut until it is settled, unless it is an aside; so do tasks", () => {
    const log = new Log();
    const strict = makeRule("main", { approvals: { ...rule.approvals, count: 0 } });
    const unmet = () =>
      evaluateGate(log.change, strict, facts).conditions.flatMap(({ key, met }) => (met ? [] : [key]));
    const send = { kind: "send-review" as const, revision: 1, verdict: "none" as const, remark: "" };
    const remark = { thread: "t", comment: "c", anchor, body: "Hm.", weight: "aside" as const };
    const task = { task: "k1", body: "Tell the pilots", person: "ada" };
    expect(log.try("ben", { ...send, remarks: [remark], tasks: [task] })).toBe("");
    expect(unmet()).toEqual(["tasks"]);
    expect(log.try("ada", { kind: "weigh", thread: "t", weight: "settle" })).toMatch(/Only who wrote/);
    expect(log.try("ben", { kind: "weigh", thread: "t", weight: "settle" })).toBe("");
    expect(unmet()).toEqual(["threads", "tasks"]);
    expect(log.try("rea", { kind: "finish-task", task: "k1" })).toMatch(/Only who set a task/);
    expect(log.try("ada", { kind: "finish-task", task: "k1" })).toBe("");
    expect(log.try("ada", { kind: "finish-task", task: "k1" })).toMatch(/done already/);
    expect(log.try("ben", { kind: "resolve", thread: "t" })).toBe("");
    expect(unmet()).toEqual([]);
  });

  it("carries suggestions until they are taken, in the revision that took them", () => {
    const log = new Log();
    const suggestion = { id: "s1", start: 3, end: 3, was: ["x"], lines: ["y"] };
    const send = { kind: "send-review" as const, revision: 1, verdict: "none" as const, remark: "" };
    const remark = { thread: "t", comment: "c", anchor, body: "", suggestions: [suggestion] };
    expect(
      log.try("ben", { ...send, remarks: [{ ...remark, suggestions: [{ ...suggestion, lines: ["x"] }] }] }),
    ).toMatch(/changes nothing/);
    expect(log.try("ben", { ...send, remarks: [remark] })).toBe("");
    const better = [{ ...suggestion, lines: ["z"] }];
    expect(log.try("ben", { kind: "edit", thread: "t", comment: "c", body: "", suggestions: better })).toBe("");
    const take: Command = { kind: "take", revision: commits(2), taken: [{ thread: "t", suggestion: "s1" }] };
    expect(log.try("ben", take)).toMatch(/Only the author/);
    expect(log.try("ada", take)).toBe("");
    expect(log.change.threads[0]).toMatchObject({
      suggestions: [{ lines: ["z"], taken: { revision: 2, by: "ada" } }],
      resolved: { by: "ada", revision: 2 },
    });
    expect(log.try("ada", take)).toMatch(/taken in r2 already/);
    expect(log.try("ben", { kind: "edit", thread: "t", comment: "c", body: "", suggestions: better })).toMatch(
      /was taken/,
    );
  });
});

describe("the id of a comment", () => {
  it("is that of no other in the change set, so that who edits their own words changes nobody else's", () => {
    const log = new Log();
    const send = { kind: "send-review" as const, revision: 1, verdict: "none" as const, remark: "" };
    const remark = (thread: string, comment: string) => ({ thread, comment, anchor, body: "Hm." });
    expect(log.try("ben", { ...send, remarks: [remark("his", "c")] })).toBe("");
    expect(log.try("ada", { ...send, remarks: [remark("hers", "c")] })).toMatch(/was sent already/);
    expect(log.try("ada", { ...send, remarks: [remark("hers", "d"), remark("other", "d")] })).toMatch(/sent already/);
    expect(log.try("ada", { ...send, remarks: [remark("hers", "d")] })).toBe("");
    expect(log.try("ada", { kind: "reply", thread: "hers", comment: "c", body: "So." })).toMatch(/was sent already/);
    expect(log.try("ada", { kind: "resolve", thread: "his", comment: "d", body: "So." })).toMatch(/was sent already/);
    const answers = ["e", "e"].map((comment) => ({ thread: "his", comment, body: "So." }));
    expect(log.try("ada", { ...send, remarks: [], replies: answers })).toMatch(/was sent already/);
    const both = { remarks: [remark("more", "f")], replies: [{ thread: "his", comment: "f", body: "So." }] };
    expect(log.try("ada", { ...send, ...both })).toMatch(/was sent already/);
    expect(log.try("ada", { kind: "resolve", thread: "his", comment: "e", body: "So." })).toBe("");
  });
});

describe("the id of a suggestion", () => {
  const made = { id: "s1", start: 3, end: 3, was: ["x"], lines: ["y"] };
  const send = { kind: "send-review" as const, revision: 1, verdict: "none" as const, remark: "" };
  const remark = (thread: string, ...suggestions: (typeof made)[]) => {
    return { thread, comment: `${thread}-1`, anchor, body: "Hm.", suggestions };
  };

  it("is that of no other, so that who takes their own settles nothing of somebody else's", () => {
    const log = new Log();
    expect(log.try("ben", { ...send, remarks: [remark("his", made)] })).toBe("");
    expect(log.try("ada", { ...send, remarks: [remark("hers", made)] })).toMatch(/was sent already/);
    const later = { ...made, id: "s2", start: 5, end: 5 };
    expect(log.try("ada", { ...send, remarks: [remark("hers", later, { ...later, start: 7, end: 7 })] })).toMatch(
      /was sent already/,
    );
    expect(log.try("ada", { ...send, remarks: [remark("hers", later)] })).toBe("");
    const edit = { kind: "edit" as const, thread: "hers", comment: "hers-1", body: "Hm.", suggestions: [made] };
    expect(log.try("ada", edit)).toMatch(/in another thread/);
    const twice = [later, { ...later, start: 7, end: 7 }];
    expect(log.try("ada", { ...edit, suggestions: twice })).toMatch(/here twice/);
  });

  it("settles only the thread in which it was taken, also in a log that has it twice", () => {
    const log = new Log();
    log.try("ben", { ...send, remarks: [remark("his", made)] });
    // As a clone may write it that knows no better.
    const twice = { revision: 1, verdict: "none" as const, remark: "", remarks: [remark("hers", made)] };
    log.append("ada", { kind: "reviewed", data: twice });
    const taken = [{ thread: "hers", suggestion: "s1" }];
    expect(log.try("ada", { kind: "take", revision: commits(2), taken })).toBe("");
    expect(log.change.threads.map(({ id, resolved, suggestions }) => [id, !!resolved, !!suggestions[0].taken])).toEqual(
      [
        ["his", false, false],
        ["hers", true, true],
      ],
    );
  });
});

describe("answers that go out with a review", () => {
  const send = (log: Log, by: string, ...replies: { thread: string; body: string; resolves?: boolean }[]) =>
    log.try(by, {
      ...{ kind: "send-review", revision: newest(log.change).number, verdict: "none", remark: "", remarks: [] },
      replies: replies.map((reply, i) => ({ ...reply, comment: `${by}-${log.events.length}-${i}` })),
    });

  it("are said in their threads, and resolve them where they should", () => {
    const log = new Log();
    log.review("ben", "none", "t1", "t2");
    expect(send(log, "ada", { thread: "t1", body: "It does." }, { thread: "t2", body: "Done.", resolves: true })).toBe(
      "",
    );
    const [first, second] = log.change.threads;
    expect(first.comments.map(({ by, body }) => `${by}: ${body}`)).toEqual(["ben: Why?", "ada: It does."]);
    expect(first.resolved).toBeNull();
    expect(second.resolved).toMatchObject({ by: "ada", revision: 1 });
    expect(log.change.reviews).toHaveLength(2);
  });

  it("are refused whole where one cannot be said", () => {
    const log = new Log();
    log.review("ben", "none", "t1");
    expect(send(log, "ada", { thread: "t1", body: "Fine." }, { thread: "nowhere", body: "?" })).toMatch(
      /no such thread/,
    );
    expect(send(log, "ada", { thread: "t1", body: "  " })).not.toBe("");
    expect(send(log, "cy", { thread: "t1", body: "I settle it.", resolves: true })).toBe("");
    expect(send(log, "rea", { thread: "t1", body: "Me too.", resolves: true })).toMatch(/Only the people in a thread/);
    expect(send(log, "ada")).toMatch(/nothing to send yet/);
  });
});
