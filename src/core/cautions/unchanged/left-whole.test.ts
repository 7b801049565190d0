import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { switchedIn } from "../testing/switched-in";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

interface Function {
  head: string;
  foot: string;
  /** A line in it, and one in a loop in it, with the number of it for "#". */
  line: string;
  within: string;
  loop: [head: string, foot: string];
  ends: string;
  condition: [head: string, foot: string];
}

const CURLY = {
  ...{ line: "  check(#);\n", within: "    check(#);\n" },
  ...{ loop: ["  while (a) {\n", "  }\n"], condition: ["  if (b) {\n", "  }\n"] },
} satisfies Partial<Function>;

const FUNCTIONS: Record<string, Function> = {
  "a.js": { ...CURLY, head: "function f() {\n", foot: "}\n", ends: "  return;\n" },
  "a.ts": { ...CURLY, head: "const f = (): void => {\n", foot: "};\n", ends: "  throw a;\n" },
  "a.c": { ...CURLY, head: "int f() {\n", foot: "}\n", ends: "  return 0;\n" },
  "a.cpp": { ...CURLY, head: "int f() {\n", foot: "}\n", ends: "  return 0;\n" },
  "a.cs": { ...CURLY, head: "class A {\n  void F() {\n", foot: "  }\n}\n", ends: "  return;\n" },
  "A.java": { ...CURLY, head: "class A {\n  void f() {\n", foot: "  }\n}\n", ends: "  return;\n" },
  "a.php": {
    ...CURLY,
    ...{ head: "<?php\nfunction f() {\n", foot: "}\n", ends: "  return;\n" },
    ...{ loop: ["  while ($a) {\n", "  }\n"], condition: ["  if ($b) {\n", "  }\n"] },
  },
  "a.rs": {
    ...CURLY,
    ...{ head: "fn f() {\n", foot: "}\n", ends: "  return;\n" },
    ...{ loop: ["  while a {\n", "  }\n"], condition: ["  if b {\n", "  }\n"] },
  },
  "a.go": {
    ...{ head: "package a\n\nfunc f() {\n", foot: "}\n", ends: "\treturn\n" },
    ...{ line: "\tcheck(#)\n", within: "\t\tcheck(#)\n" },
    ...{ loop: ["\tfor a {\n", "\t}\n"], condition: ["\tif b {\n", "\t}\n"] },
  },
  "a.rb": {
    ...{ head: "def f\n", foot: "end\n", ends: "  return 1\n", line: "  check_# 1\n", within: "    check_# 1\n" },
    ...{ loop: ["  while a\n", "  end\n"], condition: ["  if b\n", "  end\n"] },
  },
  "a.sh": {
    ...{ head: "f() {\n", foot: "}\n", ends: "  return\n", line: "  check_# 1\n", within: "    check_# 1\n" },
    ...{ loop: ["  for a in b; do\n", "  done\n"], condition: ["  if b; then\n", "  fi\n"] },
  },
  "a.ps1": {
    ...{
      head: "function F {\n",
      foot: "}\n",
      ends: "  return\n",
      line: "  Check-One #\n",
      within: "    Check-One #\n",
    },
    ...{ loop: ["  while ($a) {\n", "  }\n"], condition: ["  if ($b) {\n", "  }\n"] },
  },
};
const PYTHON = { head: "def f():\n", ends: "  return\n", line: "  check(#)\n", within: "    check(#)\n" };

const many = (line: string, count: number) =>
  Array.from({ length: count }, (_, n) => line.replace("#", `${n}`)).join("");
/** Three lines, and fifteen in a loop, which lies apart from what is changed above and below. */
const body = ({ line, within, loop: [head, foot] }: Pick<Function, "line" | "within" | "loop">) =>
  many(line, 3) + head + many(within, 15) + foot + many(line, 3);
const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);

describe("unchanged lines of a statement that lies apart from all changes", () => {
  it.each(Object.entries(FUNCTIONS))(
    "are told in %s where they are not reached any more, and where they are again",
    (path, one) => {
      const [without, with_] = ["", one.ends].map((ends) => one.head + ends + body(one) + one.foot);
      expect(said(path, without, with_)).toEqual([
        [expect.stringMatching(/^2\d unchanged lines stand where nothing is reached any/), expect.any(Number)],
      ]);
      expect(said(path, with_, without)).toEqual([
        [expect.stringMatching(/^2\d unchanged lines stand where they are reached now/), expect.any(Number)],
      ]);
    },
  );

  it("are told in Python where they are not reached any more, and where they are again", () => {
    const held = body({ ...PYTHON, loop: ["  for a in b:\n", ""] });
    const [without, with_] = ["", PYTHON.ends].map((ends) => PYTHON.head + ends + held);
    expect(said("a.py", without, with_)).toEqual([
      [expect.stringMatching(/^22 unchanged lines stand where nothing is/), 3],
    ]);
    expect(said("a.py", with_, without)).toEqual([
      [expect.stringMatching(/^22 unchanged lines stand where they are/), 2],
    ]);
  });

  it.each(Object.entries(FUNCTIONS))(
    "are told in %s where they are within a condition now, and where not any more",
    (path, one) => {
      const { head, foot, condition } = one;
      const without = head + body(one) + foot;
      const with_ = head + condition[0] + body(one) + condition[1] + foot;
      expect(said(path, without, with_)).toEqual([
        [expect.stringMatching(/^2\d unchanged lines stand within “if/), expect.any(Number)],
      ]);
      expect(said(path, with_, without)).toEqual([
        [expect.stringMatching(/^2\d unchanged lines stand outside of “if/), expect.any(Number)],
      ]);
    },
  );

  it.each([
    ["a.js", "  } else {\n", "  }\n"],
    ["A.java", "  } else {\n", "  }\n"],
    ["a.php", "  } else {\n", "  }\n"],
    ["a.rs", "  } else {\n", "  }\n"],
    ["a.go", "\t} else {\n", "\t}\n"],
    ["a.rb", "  else\n", "  end\n"],
    ["a.sh", "  else\n", "  fi\n"],
  ])("are told in %s behind ways that lead out, each far from the other", (path, otherwise, foot) => {
    const one = FUNCTIONS[path];
    const ends = one.ends.replace(/^\s+/, "$&$&");
    const long = many(one.within, 15);
    const text = (first: string, last: string) =>
      one.head + one.condition[0] + long + first + otherwise + long + last + foot + many(one.line, 15) + one.foot;
    const told = (is: string) => [
      [expect.stringMatching(`^1[56] unchanged lines stand where ${is}`), expect.any(Number)],
    ];
    const both = text(ends, ends);
    const other = many(one.within, 1);
    for (const goesOn of [text(ends, other), text(other, ends)]) {
      expect(said(path, goesOn, both)).toEqual(told("nothing is reached any more"));
      expect(said(path, both, goesOn)).toEqual(told("they are reached now"));
    }
  });
});
