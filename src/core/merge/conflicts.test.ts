import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { ChangeSet } from "../review/state";
import { tries } from "../testing/tries";
import { conflictsBetween } from "./conflicts";
import { mergeLines } from "./merge";
import { mergeMessage } from "./message";

const line = fc.constantFrom("a", "b", "c", "d", "}");
/** Two changes of one text, by edits of either. With `distinct`, every line of the text is another, so that there is one way to compare. */
const sides = (distinct: boolean) =>
  fc.array(line, { maxLength: 14 }).chain((given) => {
    const base = distinct ? given.map((_, i) => `line ${i}`) : given;
    const edits = fc.array(fc.tuple(fc.nat(base.length), fc.constantFrom("drop", "insert", "edit"), line), {
      maxLength: 3,
    });
    const change = edits.map((all) => {
      const next = [...base];
      for (const [at, how, word] of all) {
        if (how === "insert") next.splice(at, 0, word);
        else if (at < next.length) next.splice(at, 1, ...(how === "edit" ? [word] : []));
      }
      return next;
    });
    return fc.record({ base: fc.constant(base), ours: change, theirs: change });
  });

describe("conflicts", () => {
  it("are there exactly when two changes cannot be carried out together", () => {
    fc.assert(
      fc.property(sides(false), ({ base, ours, theirs }) => {
        expect(conflictsBetween(base, ours, theirs).length > 0).toBe(mergeLines(base, ours, theirs) === null);
      }),
      { numRuns: tries(2_000) },
    );
  });

  it("cover places of all three texts in order, and one side in their place makes a text without any", () => {
    fc.assert(
      fc.property(sides(true), ({ base, ours, theirs }) => {
        const places = conflictsBetween(base, ours, theirs);
        for (const [key, whole] of [
          ["base", base],
          ["ours", ours],
          ["theirs", theirs],
        ] as const) {
          const ends = [0, ...places.flatMap((place) => place[key]), whole.length];
          expect(ends.toSorted((a, b) => a - b)).toEqual(ends);
        }
        // Taking ours wherever both differ is always possible.
        let settled = [...theirs];
        for (const place of [...places].reverse())
          settled = [
            ...settled.slice(0, place.theirs[0]),
            ...ours.slice(...place.ours),
            ...settled.slice(place.theirs[1]),
          ];
        if (places.length > 0) expect(mergeLines(base, ours, settled)).not.toBeNull();
      }),
      { numRuns: tries(2_000) },
    );
  });
});

describe("the message of a merge", () => {
  const change = {
    ...{ number: 7, title: "Hold", source: "hold", target: "main", description: "Why.\n\nRefs: #3" },
    ...{ revisions: [{ number: 1, same: false }], lifts: [], threads: [] },
    reviews: [{ by: "b", verdict: "approve", revision: 1, at: 1 }],
  } as unknown as ChangeSet;
  const people = [{ id: "b", name: "Ben", email: "b@x" }];
  it("keeps all trailers in one paragraph, names who reviewed and who wrote, and is empty where none is written", () => {
    const authors = [{ name: "Ada", email: "a@x" }];
    expect(mergeMessage(change, "squash", people, authors, [{ item: "4", closes: true }])).toBe(
      "Hold\n\nWhy.\n\nRefs: #3\nCloses: #4\nChange-Set: 7\nReviewed-by: Ben <b@x>\nCo-authored-by: Ada <a@x>\n",
    );
    expect(mergeMessage(change, "merge", people, authors, [])).toMatch(
      /^Merge hold into main: Hold\n\n[^C]*\nChange-Set: 7\nReviewed-by/,
    );
    for (const how of ["rebase", "forward"] as const) expect(mergeMessage(change, how, people, authors, [])).toBe("");
  });

  it("says who reviewed it from the log alone: whoever describes a change set claims it in vain", () => {
    const claim = fc.constantFrom(
      ...["Reviewed-by: Cy <c@x>", "reviewed-BY \t: Cy", "Reviewed-by:", "Change-Set: 9", "Reviewed-by: Cy\n  and Dee"],
    );
    const honest = fc.constantFrom(
      "Why.",
      "",
      "Refs: #3",
      "It was reviewed-by: nobody",
      "Reviewed by: Cy",
      "  - a point",
    );
    const lines = fc.array(fc.oneof(claim, honest), { maxLength: 8 });
    fc.assert(
      fc.property(lines, fc.constantFrom("\n", "\r\n"), (described, end) => {
        const description = described.join(end);
        const message = mergeMessage({ ...change, description }, "merge", people, [], []);
        expect(message.match(/^(?:reviewed-by|change-set)[ \t]*:.*/gim)).toEqual([
          "Change-Set: 7",
          "Reviewed-by: Ben <b@x>",
        ]);
        for (const said of described) if (/^(Why|Refs|It was|Reviewed by)/.test(said)) expect(message).toContain(said);
        expect(message).not.toContain("and Dee");
      }),
    );
  });
});
