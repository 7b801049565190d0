import { cleanup, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { ReadingFile, Unsent } from "@/core/views/api";
import { ANCHOR, answerFor, file } from "../testing/change";
import { showInWorkspace } from "../testing/in-workspace";
import { Footing } from "./footing";

const remark = (id: string, body: string): Unsent => ({
  ...{ kind: "remark", id, body, changedAt: 1, weight: "settle", suggestions: [], anchor: ANCHOR },
});
const closing: Unsent = { kind: "closing", id: "c", body: "So.", changedAt: 1 };

function footing(files: ReadingFile[] | undefined, unsent: Unsent[] = [], complete = true) {
  const nothing = () => {};
  const points = { kind: "revision", from: "base", to: 1 } as const;
  const props = { files, points, complete, notice: null, onSend: nothing, onTake: nothing, onKeys: nothing };
  showInWorkspace(answerFor("ben", [], { unsent }), <Footing {...props} />);
  return screen.getByRole("contentinfo").textContent ?? "";
}

describe("the footing", () => {
  it("counts lines to read and not lines that changed, and says how many were quiet", () => {
    const files = [
      file("a.ts", { counts: [8, 2], toRead: 4, read: "read" }),
      file("b.ts", { counts: [5, 5], toRead: 6 }),
      file("c.ts", { counts: [9, 0], toRead: 0 }),
    ];
    expect(footing(files)).toContain("4 of 10 lines read, 1 of 2 files; 29 changed in all, 19 quiet");
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("40");
  });

  it("says so when nothing is to be read, and while it is not known", () => {
    expect(footing([file("c.ts", { counts: [9, 0], toRead: 0 })])).toContain("Nothing here is to be read; 9 changed");
  });

  it("leads to what has a caution all the same, until that is read", () => {
    const cautions = [{ kind: "moved-code" as const, says: "Code went.", line: 3 }];
    const quiet = file("c.ts", { counts: [3, 3], toRead: 0, cautions });
    expect(footing([quiet, file("d.ts", { counts: [1, 0], toRead: 0 })])).toContain(
      "Nothing here is to be read, and cautions in 1 quiet file; 7 changed",
    );
    cleanup();
    expect(footing([{ ...quiet, read: "read" }])).toContain("Nothing here is to be read; 6 changed");
  });

  it("tells how far a comparison has come", () => {
    const files = [file("a.ts", { toRead: null }), file("b.ts", { counts: null, toRead: null })];
    expect(footing(files, [], false)).toContain("Comparing: 1 of 2 files so far");
  });

  it("counts what is not sent, with the closing word by itself and without what is empty", () => {
    expect(footing([], [remark("1", "Why?"), remark("2", " "), closing])).toContain("1 unsent and a closing word");
  });

  it("tells of a closing word alone", () => {
    expect(footing([], [closing])).toContain("a closing word, unsent");
  });
});
