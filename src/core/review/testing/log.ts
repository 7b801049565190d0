import { expect } from "vitest";
import type { LineAnchor } from "../../anchor/anchor";
import { type GateFacts, NO_FACTS } from "../../rules/facts";
import { makeRule } from "../../rules/rule";
import { decide } from "../decide";
import type { NewEvent, ReviewEvent } from "../events";
import { kindOf, replay, wrongShape } from "../evolve";
import { decideOpening, type Opening } from "../families/lifecycle";
import type { Command } from "../families/table";
import type { Role } from "../roles";
import type { Verdict } from "../shapes";
import { type ChangeSet, newest } from "../state";

export const ROLE: Record<string, Role> = { ada: "contributor", ben: "contributor", cy: "keeper", rea: "reader" };
export const rule = makeRule("main", { threads: false, tasks: false });
export const facts: GateFacts = {
  ...NO_FACTS,
  people: Object.entries(ROLE).map(([id, role]) => ({ id, name: id, role, machine: false, owner: null })),
};
export const commits = (n: number) => ({ head: `head${n}`, target: "target", base: "base" });

export const anchor: LineAnchor = {
  kind: "lines",
  revision: 1,
  blob: "b",
  side: "new",
  path: "tide.py",
  start: 3,
  end: 3,
  text: ["x"],
};

export const opening: Opening = {
  actor: { id: "ada", role: "contributor" },
  repository: "repo",
  number: 1,
  title: " Hold a berth ",
  description: "",
  source: "hold",
  target: "main",
  revision: commits(1),
  alreadyOpen: null,
};

/** A log as the application keeps it: every event follows from a decision. */
export class Log {
  events: ReviewEvent[] = [];
  constructor() {
    const opened = decideOpening(opening);
    if (!opened.ok) throw new Error(opened.refusal.reason);
    this.append("ada", opened.value);
  }
  /** Read anew when there is one event more, or another one at the end. */
  get change(): ChangeSet {
    const last = this.events.at(-1);
    if (this.read?.last !== last || this.read?.count !== this.events.length)
      this.read = { last, count: this.events.length, change: replay(this.events)! };
    return this.read.change;
  }
  private read: { last: ReviewEvent | undefined; count: number; change: ChangeSet } | null = null;
  append(by: string, event: NewEvent) {
    const entry = {
      ...event,
      id: `e${this.events.length}`,
      stream: "c",
      version: 1,
      by,
      at: this.events.length,
    } as ReviewEvent;
    // Whatever is decided has the shape that its kind says, and can be told in words.
    expect(wrongShape(entry)).toBeNull();
    this.events.push(entry);
    const telling = { change: this.change, address: "http://lens", name: (id: string) => id };
    expect(kindOf(entry).says(entry, telling)).toMatch(/\S/);
    // Whatever is decided counts, also where logs are joined.
    expect(this.change.leftOut).toEqual([]);
  }
  /** Empty when it was done, else the reason it was not. */
  try(by: string, command: Command): string {
    const decision = decide(this.change, command, {
      actor: { id: by, role: ROLE[by] ?? null },
      rule,
      people: facts.people,
      gate: facts,
    });
    if (!decision.ok) return decision.refusal.reason;
    this.append(by, decision.value);
    return "";
  }
  review(by: string, verdict: Verdict, ...threads: string[]): string {
    const remarks = threads.map((thread) => ({ thread, comment: `${thread}-1`, anchor, body: "Why?" }));
    return this.try(by, { kind: "send-review", revision: newest(this.change).number, verdict, remark: "", remarks });
  }
  merge(by: string): string {
    return this.try(by, {
      kind: "merge",
      revision: newest(this.change).number,
      commit: "m",
      target: "t",
      message: "Merge",
    });
  }
}
