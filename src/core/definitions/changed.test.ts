import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars, parseWhole } from "@/server/workers/grammars/grammars";
import { languageById } from "../grammar/languages";
import { changedDefinitions } from "./changed";
import { definitionsIn } from "./definitions";

beforeAll(async () => {
  await allGrammars();
});
const read = (text: string) => (text === "" ? [] : definitionsIn(parseWhole(languageById("typescript"), text)!));
const changed = (...files: [path: string, old: string, next: string][]) =>
  changedDefinitions(files.map(([path, old, next]) => ({ path, oldPath: path, old: read(old), next: read(next) }))).map(
    ({ what, path, within, name, before, after }) =>
      [what, path, [...within, name].join("."), before, after].filter(Boolean).join(" | "),
  );

describe("what a change makes of definitions", () => {
  it("is another one where its name, parameters, type or value are others, and not for another body", () => {
    expect(
      changed([
        "a.ts",
        "function hold(slot: Slot) { return 1; }\nfunction drop() { return 1; }\nexport const LIMIT = 1;\nclass A { size = 1; go() {} }\n",
        "function hold(slot: Slot, until: Instant) { return 1; }\nfunction drop() { return 2; }\nexport const LIMIT = 2;\nclass A { size = 1; run() {} }\n",
      ]),
    ).toEqual([
      "changed | a.ts | hold | function hold(slot: Slot) | function hold(slot: Slot, until: Instant)",
      "changed | a.ts | LIMIT | LIMIT = 1 | LIMIT = 2",
      "added | a.ts | A.run | run()",
      "removed | a.ts | A.go | go()",
    ]);
  });

  it("is none where it only stands in another file now, and one where it changed on the way", () => {
    const hold = "export function hold(slot: Slot) {}\n";
    expect(changed(["a.ts", hold, ""], ["b.ts", "", hold])).toEqual([]);
    expect(changed(["a.ts", hold, ""], ["b.ts", "", hold.replace("Slot", "Berth")])).toEqual([
      "changed | b.ts | hold | function hold(slot: Slot) | function hold(slot: Berth)",
    ]);
  });

  it("says nothing of what is known within a function alone, and tells two of one name apart", () => {
    expect(changed(["a.ts", "function f() { const a = 1; }", "function f() { const b = 2; }"])).toEqual([]);
    const two = "function f(a: string): void;\nfunction f(a: number): void;\n";
    expect(changed(["a.ts", two, two.replace("number", "Date")])).toHaveLength(1);
    const many = "function f(a: string): void;\n".repeat(3_000);
    expect(changed(["a.ts", many, many], ["b.ts", many, ""], ["c.ts", "", many])).toEqual([]);
  });
});
