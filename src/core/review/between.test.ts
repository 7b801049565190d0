import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { evaluateGate } from "../rules/gate";
import { commandAgain } from "./again";
import { whyNotBetween } from "./between";
import { decide } from "./decide";
import type { NewEvent, ReviewEvent } from "./events";
import { evolve, replay } from "./evolve";
import type { Command } from "./families/table";
import type { CommitsRead } from "./shapes";
import { type ChangeSet, lastVerdict, newest, standings } from "./state";
import { commits, facts, Log, ROLE, rule } from "./testing/log";

const revise = (n: number): Command => ({ kind: "revise", revision: commits(n), number: n });
const asked = { kind: "merge-when-open", revision: 1, how: "merge", message: null } as const;
/** An entry of somebody, with a place before the event at `at`. */
const entryAt = (events: readonly ReviewEvent[], at: number, by: string, event: NewEvent): ReviewEvent =>
  ({ ...event, id: `${events[at - 1].id}5`, stream: "c", version: 1, by, at: at - 0.5 }) as ReviewEvent;
const placed = (events: readonly ReviewEvent[], at: number, entry: ReviewEvent): ChangeSet =>
  replay(events.toSpliced(at, 0, entry))!;

describe("an entry between others", () => {
  it("leaves out nothing that others did, and says so", () => {
    const log = new Log();
    expect(log.try("ada", revise(2))).toBe("");
    expect(log.review("ben", "approve")).toBe("");
    const entry = entryAt(log.events, 1, "ada", { kind: "withdrawn", data: {} });
    expect(placed(log.events, 1, entry).leftOut).toHaveLength(1);
    expect(whyNotBetween(log.events, entry)).toMatch(/change what that meant/);
    const said: NewEvent = { kind: "reviewed", data: { revision: 1, verdict: "none", remark: "Hm.", remarks: [] } };
    expect(whyNotBetween(log.events, entryAt(log.events, 1, "ada", said))).toBeNull();
    // At the end nothing can be changed.
    expect(whyNotBetween(log.events, { ...entry, id: "e9" })).toBeNull();
  });

  it("makes no other merge of one that was asked for since", () => {
    const log = new Log();
    expect(log.try("cy", asked)).toBe("");
    const described = { kind: "described", data: { title: "Other", description: "" } } as const;
    expect(whyNotBetween(log.events, entryAt(log.events, 1, "ada", described))).not.toBeNull();
    expect(whyNotBetween(log.events, entryAt(log.events, 1, "cy", described))).toBeNull();
  });

  it("is not lifted with the request for changes that a keeper had seen: that of a clone which comes later stands", () => {
    const log = new Log();
    expect(log.review("ben", "request-changes", "t")).toBe("");
    expect(log.try("cy", { kind: "lift", person: "ben", reason: "Done." })).toBe("");
    expect(standings(log.change)).toEqual([]);
    const said: NewEvent = {
      ...{ kind: "reviewed" },
      data: { revision: 1, verdict: "request-changes", remark: "And this.", remarks: [] },
    };
    const lifted = log.events.findIndex(({ kind }) => kind === "lifted");
    expect(standings(placed(log.events, lifted, entryAt(log.events, lifted, "ben", said)))).toMatchObject([
      { person: "ben", verdict: "request-changes" },
    ]);
    // What came before the one that was lifted is none of ben's last words.
    expect(standings(placed(log.events, 1, entryAt(log.events, 1, "ben", said)))).toEqual([]);
    // Nobody names another's request as if it were their own.
    const request = log.events.find(({ kind }) => kind === "reviewed")!.id;
    const own = { kind: "lifted", data: { person: "ada", reason: "Mine.", review: request } } as const;
    const standing = replay(log.events.filter(({ kind }) => kind !== "lifted"))!;
    expect(standings(evolve(standing, entryAt(log.events, 2, "ada", own)))).toMatchObject([{ person: "ben" }]);
    // Older entries do not say which one they mean.
    const [opened, asked, { data, ...lift }] = log.events;
    const older = { ...lift, data: { person: "ben", reason: "Done." } } as ReviewEvent;
    expect([data, standings(replay([opened, asked, older])!)]).toEqual([
      { person: "ben", reason: "Done.", review: asked.id },
      [],
    ]);
  });

  it("speaks of the commits that were read, whatever their number is here", () => {
    const log = new Log();
    const approves = (revision: number, of: number): NewEvent => {
      const { head, base } = commits(of);
      const said = { revision, read: { head, base }, verdict: "approve" as const, remark: "So.", remarks: [] };
      return { kind: "reviewed", data: said };
    };
    expect(log.try("ada", revise(2))).toBe("");
    // Read in a clone, and dated before the server heard of what was read.
    const early = placed(log.events, 1, entryAt(log.events, 1, "ben", approves(2, 2)));
    expect(standings(early)).toMatchObject([{ person: "ben", revision: 2 }]);
    // There it was the third one.
    const late = entryAt([...log.events, log.events[1]], 3, "ben", approves(3, 2));
    expect(standings(evolve(log.change, late))).toMatchObject([{ person: "ben", revision: 2 }]);
    // Of other commits, although the number is there: it counts for nothing, and takes nothing back.
    expect(log.review("ben", "request-changes", "t")).toBe("");
    const other = evolve(log.change, entryAt([...log.events, log.events[1]], 4, "ben", approves(2, 7)));
    expect(standings(other)).toMatchObject([{ person: "ben", verdict: "request-changes" }]);
    expect([other.reviews[1].revision, lastVerdict(other, "ben")]).toEqual([0, 2]);
    const decided = (revision: number, read: CommitsRead) => {
      const facing = { actor: { id: "ben", role: ROLE.ben }, rule, people: facts.people, gate: facts };
      const said = { kind: "send-review", revision, read, verdict: "approve", remark: "", remarks: [] } as const;
      const decision = decide(log.change, { ...said, remarks: [] }, facing);
      return decision.ok ? "" : decision.refusal.reason;
    };
    const { head, base } = commits(2);
    expect([decided(2, { head, base }), decided(5, { head, base })]).toEqual(["", ""]);
    expect(decided(2, { head, base: "elsewhere" })).toMatch(/was read as r2 is no revision here/);
    expect(decided(2, { head: commits(1).head, base })).toMatch(/You read r1, and r2 has come since/);
  });

  it("opens no gate that would not be open, nor makes an approval one of another revision, whatever it is", () => {
    const names = fc.constantFrom(...Object.keys(ROLE));
    const steps: fc.Arbitrary<(log: Log) => Command>[] = [
      fc.constant((log) => revise(newest(log.change).number + 1)),
      fc.constantFrom("approve" as const, "request-changes" as const).map((verdict) => (log: Log): Command => {
        const revision = newest(log.change).number;
        return { kind: "send-review", revision, verdict, remark: "So.", remarks: [] };
      }),
      fc
        .constantFrom<Command>(
          { kind: "withdraw" },
          { kind: "open-again" },
          { kind: "draft" },
          { kind: "ready" },
          { kind: "describe", title: "Other", description: "" },
          { kind: "lift", person: "ben", reason: "Old." },
        )
        .map((command) => () => command),
      fc.constant((log) => ({ ...asked, revision: newest(log.change).number })),
    ];
    const story = fc.array(fc.tuple(names, fc.oneof(...steps)), { minLength: 2, maxLength: 14 });
    let tried = 0;
    fc.assert(
      fc.property(story, fc.array(fc.tuple(names, fc.oneof(...steps), fc.nat()), { maxLength: 6 }), (before, late) => {
        const log = new Log();
        for (const [by, step] of before) log.try(by, step(log));
        for (const [by, step, place] of late) {
          const { change, events } = log;
          const facing = { actor: { id: by, role: ROLE[by] }, rule, people: facts.people, gate: facts };
          const decision = decide(change, step(log), facing);
          if (!decision.ok || !commandAgain(decision.value as ReviewEvent)) continue;
          const at = 1 + (place % events.length);
          if (at === events.length) continue;
          const entry = entryAt(events, at, by, decision.value);
          if (whyNotBetween(events, entry) !== null) continue;
          tried++;
          const [there, decided] = [placed(events, at, entry), evolve(change, entry)];
          const open = (one: ChangeSet) => one.state === "open" && evaluateGate(one, rule, facts).open;
          expect(open(there) && !open(decided) && !open(change)).toBe(false);
          const heads = (one: ChangeSet) => one.revisions.map(({ head, number }) => [head, number]);
          expect(heads(there)).toEqual(heads(change));
        }
      }),
      { numRuns: 200 },
    );
    expect(tried).toBeGreaterThan(10);
  });
});
