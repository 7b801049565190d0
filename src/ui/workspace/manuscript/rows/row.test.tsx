import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { LineClass } from "@/core/quiet/classes";
import { ADDED, SAME } from "@/core/reading/rows";
import { Row } from "./row";

afterEach(cleanup);

const nothing = () => {};
const ACTS = {
  ...{ onGrasp: nothing, onStretch: nothing, onRelease: nothing, onChoose: nothing, onWrap: nothing, onWhole: nothing },
  watchEnd: () => undefined,
};

function show(kind: number, text: string, quiet?: LineClass): string[] {
  render(
    <Row
      {...{ id: "row", place: 0, top: 0, row: 3, kind, text, quiet, runs: undefined, spans: undefined, acts: ACTS }}
      {...{ oldNumber: 0, newNumber: 4, measure: null, cursor: false, anchored: false, selected: false, wrote: null }}
    />,
  );
  return screen.getAllByRole("gridcell").map((cell) => cell.getAttribute("aria-label") || cell.textContent || "");
}

describe("a line that ends with a carriage return", () => {
  it("says so where it changed, and holds nothing else that could be copied", () => {
    const cells = show(ADDED, "berth();\r");
    expect(cells).toContain("added, ends with a carriage return");
    expect(cells).toContain("berth();");
  });

  it("says so beside its class where it is quiet", () => {
    expect(show(ADDED, "berth();\r", "endings")).toContain("added, endings, ends with a carriage return");
  });

  it("says nothing where it did not change, or ends without", () => {
    expect(show(SAME, "berth();\r").join()).not.toContain("carriage");
    cleanup();
    expect(show(ADDED, "berth();").join()).not.toContain("carriage");
  });
});

describe("a line with words that are written from right to left", () => {
  const drawn = (text: string) => {
    show(ADDED, text);
    return screen.getAllByRole("gridcell").at(-1)!;
  };

  it("is drawn in the order in which the file holds it: no such word takes anything along", () => {
    const code = drawn('allow("\u05d0", 0, "\u05d1\u05d2 \u05d3");');
    expect(code.textContent).toBe('allow("\u05d0", 0, "\u05d1\u05d2 \u05d3");');
    expect([...code.querySelectorAll("bdi")].map((word) => word.textContent)).toEqual([
      ...["\u05d0", "\u05d1\u05d2 \u05d3"],
    ]);
  });

  it("has each by itself beside signs that do not show", () => {
    const code = drawn("a\u200b \u05d0 + \u200b1 - \u05d1");
    expect([...code.querySelectorAll("bdi")].map((word) => word.textContent)).toEqual(["\u05d0", "\u05d1"]);
    expect(code.querySelectorAll(".odd")).toHaveLength(2);
    expect(code.textContent).toBe("a\u200b \u05d0 + \u200b1 - \u05d1");
  });
});
