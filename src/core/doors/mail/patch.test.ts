import { expect, it } from "vitest";
import { baseCommitIn, branchWord, introduction, readPatchSubject } from "./patch";

it("reads what the subject of a mailed patch says", () => {
  const read = (subject: string) => readPatchSubject(subject);
  expect(read("[PATCH] Say berth")).toEqual({ version: 1, at: 1, of: 1, title: "Say berth" });
  expect(read("[PATCH quay v2 03/12] Say\n berth [x]")).toEqual({ version: 2, at: 3, of: 12, title: "Say berth [x]" });
  expect(read("[RFC PATCH 0/2] Why")).toEqual({ version: 1, at: 0, of: 2, title: "Why" });
  for (const none of ["Re: [PATCH] x", "Say berth", "[quay] x", "[PATCH 3/2] x", "[PATCH]"])
    expect([none, read(none)]).toEqual([none, null]);
});

it("makes a branch’s name of a title, and finds the words of who introduces a series", () => {
  expect(branchWord("Größe: say “berth”, ../../x & more!")).toBe("gro-e-say-berth-x-more");
  expect(branchWord("…")).toBe("series");
  const message = "Why it is.\n\nTwo parts.\n\nBen (2):\n  One\n  Two\n\n a.txt | 2 +-\n-- \n2.39";
  expect(introduction(message)).toBe("Why it is.\n\nTwo parts.");
  expect(introduction("*** BLURB HERE ***\n\nBen (1):\n  One\n")).toBe("");
  expect(baseCommitIn(`x\n\nbase-commit: ${"a".repeat(40)}\n-- \n2.39`)).toBe("a".repeat(40));
});
