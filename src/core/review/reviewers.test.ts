import { describe, expect, it } from "vitest";
import { decide } from "./decide";
import { deskPlace } from "./desk";
import type { Command } from "./families/table";
import { commits, facts, Log, ROLE, rule } from "./testing/log";

describe("reviewers", () => {
  it("are asked by the author, among those who can give a verdict, and can step back", () => {
    const log = new Log();
    const waits = (id: string) =>
      deskPlace(
        log.change,
        { id, role: ROLE[id] },
        { rule, gate: facts, name: (person) => person, histories: {}, fresh: null },
      );
    expect(log.try("ben", { kind: "ask", invited: [{ person: "cy" }] })).toMatch(/Only the author/);
    expect(log.try("ada", { kind: "ask", invited: [{ person: "rea" }] })).toMatch(/Only contributors/);
    expect(log.try("ada", { kind: "ask", invited: [{ person: "ada" }] })).toMatch(/cannot be asked/);
    expect(log.try("ada", { kind: "ask", invited: [{ person: "ben" }] })).toBe("");
    expect(log.try("ada", { kind: "ask", invited: [{ person: "ben" }] })).toMatch(/asked already/);
    expect(waits("ben").reasons).toEqual(["ada asks you to review it."]);
    // Who is not asked could help all the same.
    expect(waits("cy")).toEqual({ waits: "could", reasons: ["You could approve it. 0 of 1 approval of r1."] });
    expect(log.try("cy", { kind: "step-back" })).toMatch(/not asked/);
    expect(log.try("ben", { kind: "step-back" })).toBe("");
    expect(log.change.asked).toEqual([]);
  });

  it("are never machines", () => {
    const log = new Log();
    const approve: Command = { kind: "send-review", revision: 1, verdict: "approve", remark: "", remarks: [] };
    const robot = { actor: { id: "bot", role: "keeper" as const, machine: true }, rule, gate: facts };
    const decision = decide(log.change, approve, robot);
    expect(decision.ok ? "" : decision.refusal.reason).toMatch(/A machine account can remark/);
  });
});

describe("the desk", () => {
  it("tells a steward that they are needed, also when there are approvals enough", () => {
    const log = new Log();
    log.review("ben", "approve");
    const guarded = { ...rule, stewards: [{ paths: "plan/**", of: ["cy"], needed: 1 }] };
    const place = (id: string, paths: string[]) =>
      deskPlace(
        log.change,
        { id, role: ROLE[id] },
        { rule: guarded, gate: { ...facts, paths }, name: (person) => person, histories: {}, fresh: null },
      ).reasons;
    expect(place("cy", ["plan/board.ts"])).toEqual([
      "It needs you as a steward: A steward of plan/** must agree: plan/board.ts.",
    ]);
    expect(place("cy", ["docs/holding.md"])).toEqual(["The gate is met: you could merge it."]);
    expect(place("ben", ["plan/board.ts"])).not.toContainEqual(expect.stringContaining("steward:"));
  });

  it("moves a change set between the two who wait for each other", () => {
    const log = new Log();
    const waits = (id: string) =>
      deskPlace(
        log.change,
        { id, role: ROLE[id] },
        { rule, gate: facts, name: (person) => person, histories: {}, fresh: null },
      ).waits;
    expect([waits("ada"), waits("ben"), waits("rea")]).toEqual(["them", "could", "none"]);
    log.review("ben", "request-changes", "t1");
    expect([waits("ada"), waits("ben")]).toEqual(["me", "them"]);
    log.try("ada", { kind: "revise", revision: commits(2) });
    log.try("ada", { kind: "reply", thread: "t1", comment: "k", body: "Done." });
    expect([waits("ada"), waits("ben")]).toEqual(["them", "me"]);
    log.try("ben", { kind: "resolve", thread: "t1" });
    log.review("ben", "approve");
    expect([waits("ada"), waits("ben"), waits("cy")]).toEqual(["me", "them", "could"]);
  });
});
