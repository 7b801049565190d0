import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars, parseWhole } from "@/server/workers/grammars/grammars";
import { type LanguageId, languageById } from "../grammar/languages";
import { definitionsIn } from "./definitions";
import { type Asking, leadsTo, meant } from "./meant";
import { importsOf, MOST_MENTIONS, mentionsIn } from "./mentions";

beforeAll(async () => {
  await allGrammars();
});
const read = (language: LanguageId, text: string) => parseWhole(languageById(language), text)!;

describe("the definition that is meant", () => {
  const files: Record<string, string> = {
    "src/tides.ts": "export function tideAt(slot: Slot) {\n  const limit = 1;\n  return limit;\n}\n",
    "src/quay.ts": "export function tideAt(quay: Quay) {\n  return 2;\n}\nclass Quay {\n  limit = 3;\n}\n",
    "test/fake.ts": "export const tideAt = () => 3;\n",
    "src/hold.ts":
      'import { tideAt } from "./tides.js";\n\nfunction hold(limit: number) {\n  const half = (limit: number) => limit / 2;\n  return tideAt(limit);\n}\n',
  };
  const ask = (name: string, given: Partial<Asking>) =>
    meant(
      { path: "src/hold.ts", line: 4, member: false, imports: [], ...given },
      Object.entries(files).flatMap(([path, text]) =>
        definitionsIn(read("typescript", text))
          .filter((one) => one.name === name)
          .map((one) => ({ ...one, path })),
      ),
    ).map(({ definition: { path, line }, reason }) => `${reason} ${path} ${line + 1}`);

  it("is what is imported, before what is near, before what goes by the name alone", () => {
    const imports = importsOf(read("typescript", files["src/hold.ts"]), "tideAt", null);
    expect(imports).toEqual(["./tides.js"]);
    expect(ask("tideAt", { imports })).toEqual([
      "import src/tides.ts 1",
      "folder src/quay.ts 1",
      "name test/fake.ts 1",
    ]);
    expect(ask("tideAt", {})[0]).toBe("folder src/quay.ts 1");
    expect(ask("tideAt", { path: "test/fake.ts", line: 0 })[0]).toBe("file test/fake.ts 1");
  });

  it("is the innermost one that is known there; those of other functions are not", () => {
    expect(ask("limit", { line: 3 })).toEqual(["scope src/hold.ts 4", "scope src/hold.ts 3", "folder src/quay.ts 5"]);
    expect(ask("limit", { line: 4 })[0]).toBe("scope src/hold.ts 3");
    // Behind a dot it is no local name.
    expect(ask("limit", { line: 4, member: true })[0]).toBe("folder src/quay.ts 5");
  });

  it("finds a module by its last parts, however the language writes it", () => {
    const CASES: [from: string, module: string, path: string, leads: boolean][] = [
      ["src/a.ts", "./tides.js", "src/tides.ts", true],
      ["src/a.ts", "../lib/tides", "lib/tides/index.ts", true],
      ["src/a.ts", "./tides", "lib/tides.ts", false],
      ["a.py", "planner.tides", "src/planner/tides.py", true],
      ["a.py", "planner.tides", "src/other/tides.py", false],
      ["a.py", "planner", "planner/__init__.py", true],
      ["cmd/a.go", "harbour.example/internal/tides", "internal/tides/table.go", true],
      ["A.java", "org.harbour.Tides", "src/org/harbour/Tides.java", true],
      ["src/a.rs", "crate::tides::at", "src/tides/at.rs", true],
      ["a.c", "tides.h", "tides.c", false],
    ];
    for (const [from, module, path, leads] of CASES)
      expect(leadsTo(from, module, path), `${module} ${path}`).toBe(leads);
  });

  it("is asked for with what brings the name in, in each language that says so", () => {
    const CASES: [LanguageId, string, string, string | null, string[]][] = [
      ["python", "from planner.tides import tide_at, level\nimport os\n", "tide_at", null, ["planner.tides"]],
      ["python", "import planner.tides\n", "tide_at", "tides", ["planner.tides"]],
      ["java", "import org.harbour.Tides;\nclass A {}", "Tides", null, ["org.harbour.Tides"]],
      ["go", 'package a\nimport "harbour/tides"\n', "At", "tides", ["harbour/tides"]],
      ["rust", "use crate::tides::at;\n", "at", null, ["crate::tides::at"]],
      ["typescript", 'import { a } from "./a";\nimport { b } from "./b";\n', "b", null, ["./b"]],
    ];
    for (const [language, text, name, of, modules] of CASES)
      expect(importsOf(read(language, text), name, of), text).toEqual(modules);
  });
});

describe("where a name stands", () => {
  it("is told from where it is spoken of, and from parts of other words", () => {
    const lines = [
      "// tide is high",
      "const tide = tideAt(1); // tide",
      // biome-ignore lint/suspicious/noTemplateCurlyInString: a text of JavaScript
      'say("tide", tides, `${tide}`);',
      "a.tide = $tide;",
    ];
    const found = mentionsIn(lines, "tide", read("typescript", lines.join("\n")));
    expect(found.map(({ line, column, kind }) => `${line}:${column} ${kind}`)).toEqual([
      "0:3 comment",
      "1:6 code",
      "1:27 comment",
      "2:5 text",
      "2:22 code",
      "3:2 code",
    ]);
    expect(found.map(({ member }) => member)).toEqual([false, false, false, false, false, true]);
    expect(mentionsIn(["f(...tide, ... tide, a.tide)"], "tide", null).map(({ member }) => member)).toEqual([
      false,
      false,
      true,
    ]);
    expect(mentionsIn(["tide"], "tide", null)).toEqual([{ line: 0, column: 0, kind: "code", member: false }]);
    expect(mentionsIn(["\u{1F30A} ?.tide"], "tide", null)).toEqual([
      { line: 0, column: 5, kind: "code", member: true },
    ]);
    const brought = ['import { tide } from "./tide";', "tide();"];
    expect(mentionsIn(brought, "tide", read("typescript", brought.join("\n"))).map(({ kind }) => kind)).toEqual([
      ...["import", "import", "code"],
    ]);
    expect(mentionsIn(["a; ".repeat(100_000), "a"], "a", null)).toHaveLength(MOST_MENTIONS);
    // A parameter that is required is not what requires something.
    const typed = ["function a(b: Tide) {}"];
    expect(mentionsIn(typed, "Tide", read("typescript", typed[0])).map(({ kind }) => kind)).toEqual(["code"]);
  });
});
