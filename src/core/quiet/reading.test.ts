import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { compareFiles } from "../diff/compare";
import { namedIn, readingOrder } from "../diff/order";
import { type Candidate, findRenames } from "../diff/renames";
import { readText } from "../diff/text";
import type { Parse } from "../grammar/parse";
import { range } from "../plain/range";
import { tries } from "../testing/tries";
import { attributeOf, readAttributes } from "./kinds/generated";
import { makeReading as makeReadingWith, type ReadFile } from "./reading";
import type { Reading } from "./whole-reading";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});
const makeReading = (input: ReadFile[]) => makeReadingWith(input, parse);

type Pair = [old: string | null, next: string | null];

function files(pairs: Record<string, Pair>): ReadFile[] {
  return Object.entries(pairs).map(([path, [old, next]]): ReadFile => {
    const bytes = (text: string | null) => (text === null ? null : Buffer.from(text));
    const lines = (text: string | null) => readText(Buffer.from(text ?? "")).lines;
    const mode = (text: string | null) => (text === null ? 0 : 0o100644);
    const ids = { oldId: old === null ? null : `o${path}`, newId: next === null ? null : `n${path}` };
    return {
      change: { path, ...ids, oldMode: mode(old), newMode: mode(next), oldPath: null, copy: false, similarity: null },
      comparison: compareFiles(bytes(old), bytes(next)),
      old: lines(old),
      next: lines(next),
      attribute: null,
    };
  });
}

/** The lines of one class on one side of a file, 1-based. */
function linesOf(reading: Reading, path: string, side: "old" | "new", kind: string): number[] {
  const file = reading.files.find((candidate) => candidate.path === path)!;
  return file.runs.flatMap((run) =>
    run.side === side && run.class === kind
      ? Array.from({ length: run.end - run.start }, (_, i) => run.start + i + 1)
      : [],
  );
}

const FUNCTION = [
  "export function closesAt(window) {",
  "  const last = window.closes;",
  "  if (last.isBefore(now)) return null;",
  "  return last.plusMinutes(margin);",
  "}",
];
const OTHER = ["const harbour = open();", "harbour.start(now);", "board.show(harbour);", "// the end"];
const text = (...lines: string[]) => `${lines.join("\n")}\n`;

describe("a reading", () => {
  const line = fc.constantFrom(
    "",
    "}",
    "  return berth;",
    "return berth;",
    "const slot = 1;",
    "const berth = 1;",
    "import a from 'a';",
    "import b from 'b';",
    "if (slot  > 2) {",
    "if (slot > 2) {",
    "  tide.rise(slot);",
    "tide.rise(berth); // high",
    "x",
  );
  const file = fc.option(
    fc.array(line, { maxLength: 25 }).map((lines) => text(...lines)),
    { nil: null },
  );
  const pair = fc.tuple(file, file).filter(([old, next]) => old !== null || next !== null);
  const trees = fc.dictionary(fc.constantFrom("a.ts", "b.ts", "c/d.py", "e.test.ts", "yarn.lock"), pair);

  it("puts every changed line into exactly one class, and the counts add up", () => {
    fc.assert(
      fc.property(trees, (pairs) => {
        const input = files(pairs);
        const reading = makeReading(input);
        expect(reading.files.map(({ path }) => path).sort()).toEqual(Object.keys(pairs).sort());
        for (const { path, runs, counts, added, removed } of reading.files) {
          const { comparison } = input.find(({ change }) => change.path === path)!;
          for (const side of ["old", "new"] as const) {
            const covered = runs.flatMap((run) => (run.side === side ? range(run.start, run.end) : []));
            const changed = comparison!.hunks.flatMap((hunk) => range(hunk[`${side}Start`], hunk[`${side}End`]));
            expect(covered.sort((a, b) => a - b)).toEqual(changed);
          }
          expect({ added, removed }).toEqual({ added: comparison!.added, removed: comparison!.removed });
          expect(Object.values(counts).reduce((a, b) => a + b, 0)).toBe(added + removed);
        }
        expect(reading.files.reduce((sum, f) => sum + f.toRead, 0)).toBe(reading.toRead);
        expect(reading.files.reduce((sum, f) => sum + f.added + f.removed, 0)).toBe(reading.changed);
      }),
      { numRuns: tries(300) },
    );
  });

  it("calls moved only what stands on both sides, as often, with the same text but for indentation", () => {
    fc.assert(
      fc.property(trees, (pairs) => {
        const reading = makeReading(files(pairs));
        const gather = (side: "old" | "new", ref: number) =>
          reading.files.flatMap((f) =>
            f.runs
              .filter((run) => run.side === side && run.class === "moved" && run.ref === ref)
              .flatMap((run) => (pairs[f.path][side === "old" ? 0 : 1] ?? "").split("\n").slice(run.start, run.end))
              .map((l) => l.trim()),
          );
        for (const ref of reading.moves.keys()) {
          expect(gather("old", ref).length).toBeGreaterThan(0);
          expect(gather("old", ref)).toEqual(gather("new", ref));
        }
      }),
      { numRuns: tries(300) },
    );
  });
});

describe("moves", () => {
  it("finds a block across files, deeper indented, with one line of it edited, and leaves only that to be read", () => {
    const inner = FUNCTION.map((l) => `    ${l}`).with(3, "    return last.plusMinutes(margin + 5);");
    const reading = makeReading(
      files({
        "a.ts": [text(...OTHER, ...FUNCTION), text(...OTHER)],
        "b.ts": [text("namespace B {", "}"), text("namespace B {", ...inner, "}")],
      }),
    );
    expect(reading.moves).toHaveLength(1);
    expect(reading.moves[0]).toMatchObject({ edited: 1 });
    expect(linesOf(reading, "b.ts", "new", "moved")).toEqual([2, 3, 4, 6]);
    expect(linesOf(reading, "b.ts", "new", "read")).toEqual([5]);
    expect(linesOf(reading, "a.ts", "old", "read")).toEqual([8]);
    expect(reading).toMatchObject({ changed: 10, toRead: 2 });
  });

  it("does not call braces, blank lines, imports or two short lines a move", () => {
    const trivial = [
      "}",
      "",
      "});",
      "{",
      "}",
      "import a from 'a';",
      "import b from 'b';",
      "import c from 'c';",
      "x();",
      "y();",
    ];
    const reading = makeReading(
      files({ "a.ts": [text(...OTHER, ...trivial), text(...OTHER)], "b.ts": [text("// b"), text("// b", ...trivial)] }),
    );
    expect(reading.moves).toEqual([]);
  });

  it("finds every block that was moved whole in a generated history", () => {
    const shuffled = fc.shuffledSubarray([0, 1, 2, 3], { minLength: 4, maxLength: 4 });
    fc.assert(
      fc.property(shuffled, (order) => {
        const block = (n: number) =>
          Array.from({ length: 5 }, (_, i) => `  statement_${n}_${i} = compute(${n * 10 + i})`);
        const part = (n: number) => [`# part ${n}`, `def part_${n}`, ...block(n), "end"];
        const old = [0, 1, 2, 3].flatMap(part);
        const next = order.flatMap(part);
        const reading = makeReading(files({ "a.rb": [text(...old), text(...next)] }));
        // Comments move with what they head; only what closes a part may be taken for that of another.
        const left = ["old", "new"].flatMap((side) => {
          const lines = text(...(side === "old" ? old : next)).split("\n");
          return linesOf(reading, "a.rb", side as "old", "read").map((line) => lines[line - 1]);
        });
        expect(left.filter((line) => line !== "end")).toEqual([]);
      }),
    );
  });

  it("are looked for in time that grows with the lines, and one file takes it from no other", () => {
    // Each of them is like all others but for its name: every one could go on into every other.
    const part = (n: number) => `export function part${n}(berth: Berth) {\n  return berth.length + 1;\n}\n`;
    const parts = Array.from({ length: 4_000 }, (_, n) => part(n));
    const reading = makeReading(
      files({
        "a/many.ts": [parts.join(""), parts.toReversed().join("")],
        "b/from.ts": [text(...OTHER, ...FUNCTION), text(...OTHER)],
        "b/to.ts": [text("// Here."), text("// Here.", ...FUNCTION)],
      }),
    );
    expect(linesOf(reading, "b/to.ts", "new", "moved")).toHaveLength(FUNCTION.length);
  });
});

describe("replacements", () => {
  it("join lines on which nothing else changed, each fold with all its names", () => {
    const old = [
      "let slot = 1;",
      "use(slot);",
      "hold(slot, ship);",
      "keep(slot, now);",
      "ship.go();",
      "ship.stop();",
      "ship.turn(1);",
      "go(slot, ship);",
    ];
    const next = [
      "let berth = 1;",
      "use(berth);",
      "hold(berth, boat);",
      "keep(berth, later);",
      "boat.go();",
      "boat.stop();",
      "boat.turn(1, 2);",
      "go(berth, boat);",
    ];
    const reading = makeReading(files({ "a.ts": [text(...old), text(...next)] }));
    expect(linesOf(reading, "a.ts", "new", "repeated")).toEqual([1, 2, 3, 5, 6, 8]);
    expect(linesOf(reading, "a.ts", "new", "read")).toEqual([4, 7]);
    expect(reading.replacements).toEqual([
      { names: [{ from: "slot", to: "berth" }], lines: 2, files: 1 },
      {
        names: [
          { from: "slot", to: "berth" },
          { from: "ship", to: "boat" },
        ],
        lines: 2,
        files: 1,
      },
      { names: [{ from: "ship", to: "boat" }], lines: 2, files: 1 },
    ]);
  });

  it("take every line of a hunk in which one name became another, and are the new line when carried out on the old", () => {
    const name = fc.constantFrom("slot", "ship", "quay", "hold", "free", "draft");
    const line = fc
      .tuple(name, name, fc.nat(99))
      .map(([a, b, n]) => `const ${a}${n} = board.${b}(NAME, ${n}).find((it) => it.${a});`);
    fc.assert(
      fc.property(fc.array(line, { minLength: 3, maxLength: 12 }), (lines) => {
        const [old, next] = ["berth", "mooring"].map((word) => text(...lines.map((l) => l.replace("NAME", word))));
        const reading = makeReading(files({ "a.ts": [old, next] }));
        expect(reading).toMatchObject({ changed: 2 * lines.length, toRead: 0 });
        expect(old.replaceAll(/\bberth\b/g, "mooring")).toBe(next);
      }),
      { numRuns: tries(40) },
    );
  });
});

describe("quiet lines", () => {
  const classes = (path: string, old: string, next: string) => {
    const { counts } = makeReading(files({ [path]: [old, next] }));
    return Object.fromEntries(Object.entries(counts).filter(([, n]) => n > 0));
  };
  it("are named for what changed", () => {
    expect(classes("a.ts", "if (a) {\n go( b );\n}\n", "if (a) {\n    go(b);\n}\n")).toEqual({ layout: 2 });
    expect(classes("a.ts", "a();\r\nb();\r\n", "a();\nb();\n")).toEqual({ endings: 4 });
    expect(classes("a.ts", "a();\nb();\n", "a();\n\n\nb();\n")).toEqual({ blank: 2 });
    expect(
      classes(
        "a.ts",
        "import b from 'b';\nimport a from 'a';\nx();\n",
        "import a from 'a';\nimport b from 'b';\nx();\n",
      ),
    ).toEqual({ imports: 2 });
    expect(classes("Cargo.lock", "a\n", "b\n")).toEqual({ read: 2 });
  });
  it("are not those within a text of several lines, nor empty lines that part paragraphs", () => {
    const said = (space: string) => `say(\`\n${space}the tide\n\`);\nrun();\n`;
    expect(classes("a.ts", said(" "), said("    "))).toEqual({ read: 2 });
    const told = (space: string) =>
      `class A {\nvoid f() {\nsay("""\n${space}the tide\n""");\nif (a) {\n${space}go();\n}\n}\n}\n`;
    expect(classes("A.java", told(" "), told("    "))).toEqual({ read: 2, layout: 2 });
    expect(classes("a.md", "one\ntwo\n", "one\n\ntwo\n")).toEqual({ read: 1 });
    expect(classes("a.ts", "one\ntwo\n", "one\n\ntwo\n")).toEqual({ blank: 1 });
  });

  it("are not those whose white space means something", () => {
    expect(classes("a.py", "if a:\n    b()\nc()\n", "if a:\n    b()\n    c()\n")).toEqual({ read: 2 });
    expect(classes("a.ts", 'say("a  b");\n', 'say("a b");\n')).toEqual({ read: 2 });
    expect(classes("a.ts", "return x;\n", "returnx;\n")).toEqual({ read: 2 });
    expect(classes("a.md", "one\n", "one  \n")).toEqual({ read: 2 });
  });
});

describe("generated files", () => {
  it("are those that an attribute tells", () => {
    const attribute = readAttributes([
      { folder: "", text: "# all\n*.json lens-generated\ndata/** lens-generated\n/top.ts lens-generated=true text\n" },
      { folder: "data/own", text: "*.json -lens-generated\n" },
    ]);
    const answers = ["a.json", "x/b.json", "data/c.txt", "data/own/d.json", "top.ts", "sub/top.ts"].map(attribute);
    expect(answers).toEqual([true, true, true, false, true, null]);
  });

  it("are none that went there from where people write", () => {
    const attributes = readAttributes([{ folder: "", text: "made/** lens-generated\nsrc/own.js -lens-generated\n" }]);
    const said = (oldPath: string | null, path: string, copy = false) =>
      attributeOf({ oldPath, path, copy }, attributes);
    expect([said("src/check.js", "made/check.js"), said("src/own.js", "made/own.js")]).toEqual([null, null]);
    expect([said("made/a.js", "made/b.js"), said(null, "made/b.js"), said("src/a.js", "made/b.js", true)]).toEqual([
      true,
      true,
      true,
    ]);
    expect([said("made/a.js", "src/a.js"), said("made/a.js", "src/own.js")]).toEqual([null, false]);
  });
});

describe("the order of reading", () => {
  it("puts what is needed first, tests after what they test, and loses no file", () => {
    const paths = (list: [string, string[]][]) =>
      readingOrder(list.map(([path, lines]) => ({ path, names: namedIn(path, lines) }))).map((i) => list[i][0]);
    expect(
      paths([
        ["app/main.ts", ['import { hold } from "../plan/hold";']],
        ["plan/hold.test.ts", ['import { hold } from "./hold.js";']],
        ["plan/hold.ts", ['import { window } from "./window";']],
        ["plan/window.ts", []],
        ["readme.md", []],
      ]),
    ).toEqual(["readme.md", "plan/window.ts", "plan/hold.ts", "app/main.ts", "plan/hold.test.ts"]);
    expect(
      paths([
        ["b.ts", ['import "./a";']],
        ["a.ts", ['import "./b";']],
      ]).sort(),
    ).toEqual(["a.ts", "b.ts"]);
    expect(
      paths([
        ["tests/test_tide.py", ["from pkg.tide import x"]],
        ["pkg/tide.py", []],
      ]),
    ).toEqual(["pkg/tide.py", "tests/test_tide.py"]);
  });
});

describe("renames", () => {
  const body = (n: number) => Array.from({ length: 20 }, (_, i) => `line ${i} of file ${n}`);
  const candidate = (
    key: number,
    path: string,
    lines: string[] | null,
    id = lines ? lines.join("\n") : `binary ${key}`,
  ): Candidate => ({ key, path, id, lines });

  it("finds each of a thousand that were moved to another folder, renamed and edited", () => {
    const gone = Array.from({ length: 1000 }, (_, n) => candidate(n, `old/f${n}.ts`, ["// licence", ...body(n)]));
    const came = Array.from({ length: 1000 }, (_, n) =>
      candidate(5000 + n, `new/g${n}.ts`, ["// licence", ...body(n).slice(0, 15), `edited ${n}`]),
    );
    const found = findRenames(gone, [], came.toReversed());
    expect(found).toHaveLength(1000);
    for (const { from, to, copy, similarity } of found) {
      expect([to - 5000, copy]).toEqual([from, false]);
      expect(similarity).toBeGreaterThan(0.5);
    }
  });

  it("tells copies from renames, and takes binaries only unchanged", () => {
    const found = findRenames(
      [candidate(1, "a.ts", body(1)), candidate(2, "a.png", null, "same")],
      [candidate(3, "kept.ts", body(3))],
      [
        candidate(11, "b.ts", body(1)),
        candidate(12, "c.ts", body(1).with(0, "other")),
        candidate(13, "copy.ts", body(3)),
        candidate(14, "b.png", null, "same"),
        candidate(15, "c.png", null, "other"),
      ],
    );
    const answer = Object.fromEntries(found.map(({ from, to, copy }) => [to, [from, copy]]));
    expect(answer).toEqual({ 11: [1, false], 12: [1, true], 13: [3, true], 14: [2, false] });
    expect(findRenames([candidate(1, "a", [])], [], [candidate(2, "b", [])])).toEqual([]);
  });
});
