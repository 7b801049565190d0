import fc from "fast-check";
import { expect, it } from "vitest";
import { deskPlace } from "../../review/desk";
import type { Command } from "../../review/families/table";
import { newest } from "../../review/state";
import { commits, facts, Log, ROLE, rule } from "../../review/testing/log";
import { tries } from "../../testing/tries";
import { checksSay, moversOf, turnOf, wordsOf } from "./listed";

const PEOPLE = ["ada", "ben", "cy"];
/** What on a desk comes from rules, branches and moved lines alone. */
const BEYOND = /gate is met|steward|were changed: answered/;

it("says of everyone that it is for them to move exactly where their desk does, rules and branches aside", () => {
  const step = fc.record({
    by: fc.constantFrom(...PEOPLE),
    what: fc.constantFrom(
      "approve",
      "request-changes",
      "none",
      "remark",
      "reply",
      "resolve",
      "revise",
      "ask",
      "ask-role",
      "step-back",
      "again",
    ),
    nth: fc.nat(5),
  });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
      const log = new Log();
      for (const [at, { by, what, nth }] of steps.entries()) {
        const { threads } = log.change;
        const thread = threads[nth % Math.max(1, threads.length)]?.id ?? "none";
        const to = PEOPLE[nth % 3];
        const next = newest(log.change).number + 1;
        if (what === "approve" || what === "request-changes" || what === "none") log.review(by, what);
        else if (what === "remark") log.review(by, "none", `t${at}`);
        else {
          const command = {
            reply: { kind: "reply", thread, body: "So.", comment: `c${at}` },
            resolve: { kind: "resolve", thread },
            revise: {
              kind: "revise",
              revision: commits(next),
              how: nth === 0 ? "rebased" : "forward",
              same: nth === 0,
            },
            ask: { kind: "ask", invited: [{ person: to }] },
            "ask-role": { kind: "ask", invited: [{ role: "keeper" }] },
            "step-back": { kind: "step-back" },
            again: { kind: "ask-again", people: [to] },
          }[what] as unknown as Command;
          log.try(by, command);
        }
      }
      const { people, roles } = moversOf(log.change);
      for (const id of PEOPLE) {
        const place = deskPlace(
          log.change,
          { id, role: ROLE[id] },
          { rule, gate: facts, name: (one) => one, histories: {}, fresh: null },
        );
        const own = place.reasons.filter((reason) => !BEYOND.test(reason));
        const wasIn = log.change.reviews.some(({ by }) => by === id);
        const moves = people.has(id) || (!wasIn && id !== log.change.author && roles.has(ROLE[id]));
        expect([id, moves]).toEqual([id, place.waits === "me" && own.length > 0]);
      }
    }),
    { numRuns: tries(300) },
  );
});

it("tells whose turn it is, what checks say and which words are in it", () => {
  const log = new Log();
  expect(turnOf(log.change)).toBe("reviewers");
  log.review("ben", "none", "t1");
  expect(turnOf(log.change)).toBe("author");
  expect(wordsOf(log.change)).toMatchObject({ title: "Hold a berth", talk: "Why?" });
  expect(checksSay(log.change)).toBe("none");
  const { head } = newest(log.change);
  const check = (name: string, state: "passed" | "failed" | "running", commit = head) => ({
    name,
    state,
    commit,
    by: "m",
    at: 0,
    summary: "",
    link: null,
    details: null,
    found: null,
  });
  const say = (...checks: ReturnType<typeof check>[]) => checksSay({ ...log.change, checks: checks as never });
  expect(say(check("a", "passed"), check("b", "failed"))).toBe("failed");
  expect(say(check("a", "passed"), check("b", "running"))).toBe("running");
  expect(say(check("a", "passed"), check("b", "failed", "older"))).toBe("passed");
});
