import { describe, expect, it } from "vitest";
import type { ReviewEvent } from "./events";
import { evolve } from "./evolve";
import type { ChangeSet } from "./state";
import { commits, Log } from "./testing/log";

/** What becomes of a change set by an event that nobody decided. */
function after(log: Log, by: string, kind: string, data: object): ChangeSet {
  const event = { id: "z", stream: "c", kind, version: 1, by, at: 99, data };
  return evolve(log.change, event as unknown as ReviewEvent);
}
const why = (log: Log, by: string, kind: string, data: object) => after(log, by, kind, data).leftOut.at(-1)?.why ?? "";

describe("what cannot have happened", () => {
  it("is kept with its reason, and changes nothing else", () => {
    const log = new Log();
    log.review("ben", "approve");
    log.merge("cy");
    const said = { revision: 1, verdict: "request-changes", remark: "Wait.", remarks: [] };
    const { leftOut, last, entries, ...rest } = after(log, "ben", "reviewed", said);
    expect(leftOut).toEqual([{ id: "z", by: "ben", kind: "reviewed", why: "it reviews what was merged already" }]);
    const { leftOut: _, last: was, entries: many, ...before } = log.change;
    expect([rest, last, entries]).toEqual([before, "z", many + 1]);
    expect(was).not.toBe("z");
  });

  it("is a second beginning, a second end, and a revision of what has ended", () => {
    const log = new Log();
    expect(why(log, "ada", "opened-again", {})).toMatch(/not withdrawn/);
    log.try("ada", { kind: "withdraw" });
    expect(why(log, "cy", "withdrawn", {})).toMatch(/settled already/);
    expect(why(log, "ada", "revised", { revision: commits(2) })).toMatch(/settled already/);
    expect(why(log, "cy", "merged", { revision: 1, commit: "m", target: "t", message: "" })).toMatch(/settled already/);
  });

  it("is what one does alone to get past the others: lifting what was asked of one’s own, changing their words", () => {
    const log = new Log();
    log.review("ben", "request-changes", "t1");
    expect(why(log, "ada", "lifted", { person: "ben", reason: "No." })).toMatch(/their own work/);
    expect(why(log, "ben", "lifted", { person: "ben", reason: "" })).toBe("");
    const words = { thread: "t1", comment: "t1-1", body: "All is well." };
    expect(why(log, "ada", "edited", words)).toMatch(/somebody else said/);
    expect(why(log, "ben", "edited", words)).toBe("");
  });
});
