import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { readTexts } from "../read-texts";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const NAMES = ["alpha", "beta", "gamma"];
const name = fc.constantFrom(...NAMES);
/** Enough lines, and none like another, that it can be told to have moved. */
const body = (mark: number) =>
  Array.from({ length: 4 }, (_, n) => `  void "line ${n} of what is number ${mark}";\n`).join("");

/** Members of a script, each with a number of its own. */
const member = (mark: number) =>
  fc.oneof(
    name.map((name) => `function ${name}() {\n${body(mark)}  return ${mark};\n}\n`),
    name.map((name) => `const ${name}Of${mark} = () => {\n${body(mark)}  return limit + ${mark};\n};\n`),
    fc.constant(
      `class Class${mark} {\n  static limit = limit;\n${body(mark).replaceAll("void", `static at${mark} =`)}}\n`,
    ),
    fc.constant(`class Class${mark} {\n  limit = 10;\n  go() {\n${body(mark)}    return ${mark};\n  }\n}\n`),
    name.map((name) => `said.push(typeof ${name} === "function" && ${name}());\n`),
    name.map((name) => `limit = String(typeof ${name} + ${mark});\n`),
    fc.constant(`const number${mark} = ${mark};\n`),
    // One that looks at what another gives, before or behind it.
    fc
      .integer({ min: 0, max: 7 })
      .map(
        (n) =>
          `class Class${mark} {\n  static limit = typeof number${n};\n${body(mark).replaceAll("void", `static at${mark} =`)}}\n`,
      ),
    fc.constant(`// A note, number ${mark}.\n`),
  );

const script = fc
  .integer({ min: 3, max: 8 })
  .chain((count) => fc.tuple(...Array.from({ length: count }, (_, n) => member(n))));

/** What a script says of itself in the end: what it called, what its functions give, and what went wrong. */
function run(members: readonly string[]): string {
  const asked = members.flatMap((text) => /(?:const|class) (\w+)/.exec(text)?.[1] ?? []);
  const ends = [
    ...NAMES.map((name) => `tell("${name}", () => ${name}());`),
    ...asked.map((name) => `tell("${name}", () => [${name}.limit, String(${name}), typeof ${name}]);`),
  ];
  const before =
    "let limit = 1; const said = []; function tell(name, what) { try { said.push([name, what()]); } catch (error) { said.push([name, String(error)]); } }\n";
  try {
    return JSON.stringify(
      new Function(
        `${before}try {\n${members.join("")}\n${ends.sort().join("\n")}\n} catch (error) { said.push(\`stopped: \${error}\`); }\nreturn said;`,
      )(),
    );
  } catch (error) {
    return String(error);
  }
}

describe("the order of definitions", () => {
  it("is quiet only where a script does the same", () => {
    let quiet = 0;
    fc.assert(
      fc.property(script, fc.nat(), fc.nat(), (members, from, to) => {
        const moved = members[from % members.length];
        const others = members.filter((one) => one !== moved);
        const next = others.toSpliced(to % (others.length + 1), 0, moved);
        const path = "a.js";
        const reading = readTexts({ [path]: { old: members.join(""), next: next.join("") } }, parse);
        if (reading.toRead > 0 || reading.changed === 0) return;
        const before = run(members);
        // Of what was broken before, another part may be the first to break.
        if (before.includes("stopped: ")) return;
        quiet++;
        expect(run(next)).toBe(before);
      }),
      { numRuns: 600 },
    );
    expect(quiet).toBeGreaterThan(40);
  });

  it("ends where there are more definitions than anyone would go through", () => {
    const functions = Array.from(
      { length: 2_000 },
      (_, n) => `function first${n}(request) {\n  noteOfTheBerth${n}(request);\n  tellOfTheBerth${n}(request);\n}\n`,
    );
    const reading = readTexts({ "a.js": { old: functions.join(""), next: functions.toReversed().join("") } }, parse);
    expect(reading.counts.moved).toBeGreaterThan(1_000);
    expect(reading.toRead).toBeGreaterThan(1_000);
  });
});
