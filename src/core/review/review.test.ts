import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { evaluateGate } from "../rules/gate";
import { deskPlace } from "./desk";
import { evolve, kindOf } from "./evolve";
import { decideOpening, type Opening } from "./families/lifecycle";
import type { Command } from "./families/table";
import type { Verdict } from "./shapes";
import { type ChangeSet, newest } from "./state";
import { anchor, commits, facts, Log, opening, ROLE, rule } from "./testing/log";

describe("opening", () => {
  it("is refused with its reason, or gives r1", () => {
    const reason = (part: Partial<Opening>) => {
      const outcome = decideOpening({ ...opening, ...part });
      return outcome.ok ? "" : outcome.refusal.reason;
    };
    expect(reason({})).toBe("");
    expect(reason({ title: " " })).toMatch(/needs a title/);
    expect(reason({ target: "hold" })).toMatch(/offered to itself/);
    // A name that would be read as another one in every sentence.
    expect(reason({ source: "ho\u200bld" })).toMatch(/cannot be seen.*: ho⟨U\+200B⟩ld\.$/);
    expect(reason({ target: "ma\u202ein" })).toMatch(/cannot be seen.*: ma⟨U\+202E⟩in\.$/);
    expect(reason({ target: "本流\u3000一" })).toBe("");
    expect(reason({ alreadyOpen: 7 })).toMatch(/Change set 7 is already open/);
    expect(reason({ revision: { head: "x", target: "y", base: "x" } })).toMatch(/no difference/);
    expect(reason({ actor: { id: "rea", role: "reader" } })).toMatch(/Only contributors/);
    expect(new Log().change).toMatchObject({
      title: "Hold a berth",
      state: "open",
      author: "ada",
      revisions: [{ number: 1 }],
    });
  });

  it("takes no title with signs that do not show, and writes them out in what came from elsewhere", () => {
    const odd = "Hold\u202e a\u200b berth";
    const asked = decideOpening({ ...opening, title: odd });
    expect(asked.ok ? "" : asked.refusal.code).toBe("invalid");
    const log = new Log();
    const [opened] = log.events;
    const elsewhere = { ...opened, data: { ...(opened.data as object), title: odd } } as typeof opened;
    expect(evolve(null, elsewhere).title).toBe("Hold⟨U+202E⟩ a⟨U+200B⟩ berth");
    log.append("ada", { kind: "described", data: { title: odd, description: "" } });
    expect(log.change.title).toBe("Hold⟨U+202E⟩ a⟨U+200B⟩ berth");
  });

  it("is not offered to a branch with signs that cannot be seen, afterwards either", () => {
    const to = (target: string) =>
      new Log().try("ada", { kind: "retarget", target, revision: commits(1), same: false });
    expect(to("ma\u200bin")).toMatch(/cannot be seen: ma⟨U\+200B⟩in\.$/);
    expect(to("main")).toMatch(/offered to main already/);
  });
});

describe("a review", () => {
  it("asks for changes, is answered, settled, opened again and approved; then the gate is met and it merges", () => {
    const log = new Log();
    expect(log.review("ben", "request-changes", "t1")).toBe("");
    expect(log.merge("cy")).toMatch(/1 request for changes stands/);
    expect(log.try("ada", { kind: "reply", thread: "t1", comment: "k", body: "Done." })).toBe("");
    expect(log.try("ben", { kind: "resolve", thread: "t1" })).toBe("");
    expect(log.try("ada", { kind: "reopen", thread: "t1" })).toBe("");
    expect(log.try("ada", { kind: "reopen", thread: "t1" })).toMatch(/open already/);
    expect(log.review("ben", "approve")).toBe("");
    expect(log.merge("ben")).toMatch(/Only a keeper/);
    expect(log.merge("cy")).toBe("");
    expect(log.change).toMatchObject({ state: "merged", settled: { by: "cy", commit: "m" } });
    expect(log.merge("cy")).toMatch(/merged already/);
    expect(log.review("ben", "approve")).toMatch(/merged already/);
  });

  it("gives no verdict on one's own, none as a reader, none without a word, none on what is not newest", () => {
    const log = new Log();
    expect(log.review("ada", "approve")).toMatch(/your own change set/);
    expect(log.review("rea", "approve")).toMatch(/As a reader/);
    expect(log.review("nobody", "none", "t")).toMatch(/no such change set/);
    expect(log.review("ben", "none")).toMatch(/nothing to send/);
    expect(log.review("ben", "request-changes")).toMatch(/Say what should change/);
    expect(log.review("rea", "none", "t1")).toBe("");
    expect(log.try("ada", { kind: "revise", revision: commits(2) })).toBe("");
    const stale: Command = { kind: "send-review", revision: 1, verdict: "approve", remark: "", remarks: [] };
    expect(log.try("ben", stale)).toMatch(/r2 has come since/);
    const waits: Command = { kind: "merge-when-open", revision: 1, how: "merge", message: null };
    expect(log.try("cy", waits)).toMatch(/r2 has come since/);
    expect(log.try("cy", { ...waits, revision: 2 })).toBe("");
    expect(log.try("ada", { kind: "revise", revision: commits(2) })).toMatch(/has not moved/);
    expect(log.try("ben", { kind: "resolve", thread: "t1" })).toMatch(/Only the people in a thread/);
  });

  it("keeps an approval over a rebase that leaves the work as it was, and over nothing else", () => {
    const log = new Log();
    log.review("ben", "approve");
    log.try("ada", { kind: "revise", revision: commits(2), how: "rebased", same: true });
    expect(evaluateGate(log.change, rule, facts).open).toBe(true);
    expect(
      deskPlace(
        log.change,
        { id: "ben", role: "contributor" },
        { rule, gate: facts, name: (id) => id, histories: {}, fresh: null },
      ),
    ).toEqual({ waits: "them", reasons: ["The gate is met: it can be merged."] });
    log.try("ada", { kind: "revise", revision: commits(3), how: "rebased", same: true });
    expect(evaluateGate(log.change, rule, facts).open).toBe(true);
    log.try("ada", { kind: "revise", revision: commits(4), how: "forward", same: false });
    expect(evaluateGate(log.change, rule, facts).open).toBe(false);
  });

  it("makes an approval of an earlier revision outdated, and lets a request for changes stand", () => {
    const log = new Log();
    log.review("ben", "approve");
    expect(evaluateGate(log.change, rule, facts).open).toBe(true);
    log.try("ada", { kind: "revise", revision: commits(2) });
    const gate = evaluateGate(log.change, rule, facts);
    expect(gate.conditions[0]).toMatchObject({ met: false, people: [] });
    expect(gate.conditions[0].says).toBe("0 of 1 approval of r2. 1 approval of an earlier revision no longer counts.");
    log.review("cy", "request-changes", "t");
    log.try("ada", { kind: "revise", revision: commits(3) });
    expect(evaluateGate(log.change, rule, facts).conditions[1]).toMatchObject({ met: false, people: ["cy"] });
  });
});

describe("any order of commands", () => {
  const person = fc.constantFrom("ada", "ben", "cy", "rea", "nobody");
  const command: fc.Arbitrary<(log: Log, n: number) => [string, Command]> = fc
    .tuple(
      person,
      fc.constantFrom(
        "revise",
        "reply",
        "resolve",
        "reopen",
        "withdraw",
        "merge",
        "approve",
        "request-changes",
        "none",
      ),
      fc.nat(3),
    )
    .map(([by, kind, t]) => (log, n): [string, Command] => {
      const revision = newest(log.change).number;
      const thread = `t${t}`;
      switch (kind) {
        case "revise":
          return [by, { kind, revision: commits(n + 2) }];
        case "reply":
          return [by, { kind, thread, comment: `k${n}`, body: "So." }];
        case "resolve":
        case "reopen":
          return [by, { kind, thread }];
        case "withdraw":
          return [by, { kind }];
        case "merge":
          return [by, { kind, revision, commit: "m", target: "t", message: "Merge" }];
        default: {
          const remarks = log.change.threads.some(({ id }) => id === thread)
            ? []
            : [{ thread, comment: `${thread}c`, anchor, body: "Hm." }];
          return [by, { kind: "send-review", revision, verdict: kind as Verdict, remark: "", remarks }];
        }
      }
    });

  it("never merges without an approval of the newest revision by someone else, and nothing happens after the end", () => {
    fc.assert(
      fc.property(fc.array(command, { maxLength: 25 }), (commands) => {
        const log = new Log();
        for (const [n, make] of commands.entries()) {
          const before = log.change;
          const [by, what] = make(log, n);
          const refusal = log.try(by, what);
          if (refusal === "" && what.kind === "merge") {
            expect(evaluateGate(before, rule, facts).open).toBe(true);
            expect(
              before.reviews.some(
                (r) => r.verdict === "approve" && r.by !== "ada" && r.revision === newest(before).number,
              ),
            ).toBe(true);
          }
          if (before.state === "merged" && refusal === "") expect(["reply", "resolve", "reopen"]).toContain(what.kind);
          if (before.state === "withdrawn") expect(refusal).not.toBe("");
          if (ROLE[by] === undefined) expect(refusal).not.toBe("");
        }
      }),
    );
  });

  it("evolves one event at a time to what the whole log gives, and leaves earlier states as they were", () => {
    fc.assert(
      fc.property(fc.array(command, { maxLength: 15 }), (commands) => {
        const log = new Log();
        for (const [n, make] of commands.entries()) log.try(...make(log, n));
        let state: ChangeSet | null = null;
        for (const event of log.events) {
          const before = structuredClone(state);
          const next: ChangeSet = evolve(state, event);
          expect(state).toEqual(before);
          state = next;
        }
        expect(state).toEqual(log.change);
      }),
    );
  });

  it("writes over nobody’s words unseen, and keeps every earlier wording", () => {
    const log = new Log();
    const was = { title: log.change.title, description: "" };
    expect(log.try("ada", { kind: "describe", title: "Hold", description: "Why.", was })).toBe("");
    expect(log.try("cy", { kind: "describe", title: "Held", description: "", was })).toMatch(/while you were writing/);
    const now = { title: "Hold", description: "Why." };
    expect(log.try("cy", { kind: "describe", title: "Held", description: "", was: now })).toBe("");
    expect(log.change.wordings.map(({ title, by }) => [title, by])).toEqual([
      ["Hold a berth", "ada"],
      ["Hold", "ada"],
    ]);
    expect(log.change.describedBy).toBe("cy");
  });

  it("lets a merge fall that waits with a message made of it, where someone else describes it", () => {
    const asked = (by: string, more: { kind?: "rebase"; message?: string } = {}) => {
      const log = new Log();
      log.append(by, { kind: "merge-asked", data: { kind: "merge", message: null, ...more } });
      expect(log.try("ada", { kind: "describe", title: "Hold", description: "Something else." })).toBe("");
      return log;
    };
    const { change, events } = asked("cy");
    expect(change.mergeAsked).toBeNull();
    expect(change.mergeFailed).toMatchObject({
      asker: "cy",
      why: expect.stringMatching(/changed by someone else\. Look/),
    });
    expect(kindOf(events.at(-1)!).told?.(change, events.at(-1)!, () => [])).toEqual(["cy"]);
    // With words of one’s own, with none at all, or by one’s own hand, nothing is otherwise than it was asked for.
    for (const same of [asked("cy", { message: "My words" }), asked("cy", { kind: "rebase" }), asked("ada")])
      expect([same.change.mergeAsked === null, same.change.mergeFailed]).toEqual([false, null]);
  });
});
