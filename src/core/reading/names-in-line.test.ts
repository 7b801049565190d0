import { describe, expect, it } from "vitest";
import { COLOUR_CLASSES } from "../views/api";
import { namesInLine } from "./names-in-line";

const [plain, keyword, string] = ["plain", "keyword", "string"].map((name) =>
  COLOUR_CLASSES.indexOf(name as (typeof COLOUR_CLASSES)[number]),
);

describe("the names of a line", () => {
  it("are its words, without keywords and what is in texts, each with what it is a part of", () => {
    const text = 'const tide = quay.tideAt(slot, "half tide");';
    const runs = [5, keyword, 26, plain, 11, string, 2, plain];
    expect(namesInLine(text, runs)).toEqual([
      { name: "tide", from: 6, to: 10, of: null },
      { name: "quay", from: 13, to: 17, of: null },
      { name: "tideAt", from: 18, to: 24, of: "quay" },
      { name: "slot", from: 25, to: 29, of: null },
    ]);
  });

  it("are all words without colours, in any letters, and none where there is none", () => {
    expect(namesInLine("größe ($x) a1::b", []).map(({ name, of }) => [name, of])).toEqual([
      ["größe", null],
      ["$x", null],
      ["a1", null],
      ["b", "a1"],
    ]);
    expect(namesInLine("f()?.then", []).at(-1)).toMatchObject({ name: "then", of: "" });
    expect(namesInLine("12 + 0x1f { }", [])).toEqual([]);
    expect(namesInLine("", [])).toEqual([]);
  });
});
