import { beforeAll, expect, it, vi } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { languageById } from "./languages";
import type { Parse } from "./parse";
import { ofTypes, typeOf } from "./syntax";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

it("asks once about each type of a grammar, and tells the types of two grammars apart", () => {
  const isName = vi.fn((name: string) => /identifier/.test(name));
  const named = ofTypes(isName);
  const texts = { typescript: "hold(berth, pier);\nlet tide = 1;\n", python: "hold(berth)\ntide = 1\n" } as const;
  for (const id of ["typescript", "python", "typescript"] as const) {
    const text = texts[id];
    const syntax = parse({ language: languageById(id), text, interest: [0, text.length] })!;
    for (const node of syntax.type.keys()) expect(named(syntax, node)).toBe(/identifier/.test(typeOf(syntax, node)));
    // Behind the last node there is none.
    expect(named(syntax, syntax.type.length)).toBe(false);
  }
  const asked = isName.mock.calls.filter(([name]) => name === "identifier");
  expect(asked).toHaveLength(2);
});
