import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { diffLines } from "@/core/diff/lines";
import { LANGUAGES, languageById } from "@/core/grammar/languages";
import type { Parse, ParseAsk } from "@/core/grammar/parse";
import type { Syntax } from "@/core/grammar/syntax";
import { threadTime } from "../thread-time";
import { allGrammars, forgetParses } from "./grammars";

let parse: Parse;
// For each anew: what one of them takes in vain is not taken from the next.
beforeEach(async () => {
  parse = await allGrammars();
});

const SAMPLES: Partial<Record<(typeof LANGUAGES)[number]["id"], string>> = {
  typescript: readFileSync(join(process.cwd(), "src/core/quiet/kinds/moved.ts"), "utf8"),
  tsx: readFileSync(join(process.cwd(), "src/ui/workspace/manuscript/rows/row.tsx"), "utf8"),
  json: readFileSync(join(process.cwd(), "package.json"), "utf8"),
  css: readFileSync(join(process.cwd(), "src/app/globals.css"), "utf8").replaceAll(/^\s*@apply.*$/gm, ""),
  bash: 'for a in b c; do\n  echo "$a" <<E\nx\nE\ndone\nif [ -f a ]; then\n  b\nfi\n',
  python: "def f(a):\n    if a:\n        return 1\n    return '''b\nc'''\n\n\nclass D:\n    x = 1\n",
  yaml: "a:\n  b: 1\n  c: |\n    d\n    e\nf:\n  - g\n  - h\n",
};

/** As words, which are compared at once. */
function parts({ type, depth, start, end, parent, tokens }: Syntax) {
  return [type, depth, start, end, parent, tokens].map((list) => list.join(" "));
}

describe("grammars", () => {
  it("are at hand for every language, and read a text the first time they are asked, which compiles them", () => {
    for (const { id } of LANGUAGES) {
      // A script that says nothing is none to the grammar of PowerShell. One that is short is read however long it takes.
      const text = (id === "powershell" ? "go\n" : "\n").repeat(500);
      expect(parse({ language: languageById(id), text, interest: [0, text.length] }), id).not.toBeNull();
    }
  });

  it.each(Object.keys(SAMPLES) as (keyof typeof SAMPLES)[])(
    "of %s read a text that became another as they read it by itself",
    (id) => {
      const language = languageById(id);
      const old = SAMPLES[id]!.split("\n").slice(0, -1);
      const edit = fc.record({
        at: fc.nat(400),
        remove: fc.nat(2),
        insert: fc.array(fc.nat(old.length - 1), { maxLength: 2 }),
        indent: fc.nat(3),
      });
      let read = 0;
      fc.assert(
        fc.property(fc.array(edit, { minLength: 1, maxLength: 3 }), (edits) => {
          const next = [...old];
          for (const { at, remove, insert, indent } of edits)
            next.splice(at % (next.length + 1), remove, ...insert.map((line) => " ".repeat(indent) + old[line]));
          const [before, after] = [old, next].map((lines) => (lines.length > 0 ? `${lines.join("\n")}\n` : ""));
          const whole = [0, after.length];
          forgetParses();
          const fresh = parse({ language, text: after, interest: whole });
          forgetParses();
          expect(parse({ language, text: before, interest: [0, before.length] })).not.toBeNull();
          const edited = { text: before, hunks: diffLines(old, next) };
          const again = parse({ language, text: after, interest: whole, before: edited });
          expect(again === null).toBe(fresh === null);
          if (fresh && again) {
            read++;
            expect(parts(again)).toEqual(parts(fresh));
          }
        }),
        { numRuns: 150 },
      );
      // Most texts that come of it are errors; by chance fewer than so many are not, once in a million runs.
      expect(read).toBeGreaterThan(5);
    },
  );

  it("parse from no text whose next one was given up", () => {
    const language = languageById("typescript");
    const textOf = (lines: string[]) => `${lines.join("\n")}\n`;
    const ask = (lines: string[], before?: string[]): ParseAsk => {
      const text = textOf(lines);
      const edited = before && { text: textOf(before), hunks: diffLines(before, lines) };
      return { language, text, interest: [0, text.length], ...(edited && { before: edited }) };
    };
    // Lines as long as each other, of two kinds in turn: moved on by one, each has the place of one of the other kind.
    const old = Array.from({ length: 40 }, (_, n) => (n % 2 ? "a(1);" : "b=12;"));
    const other = [...old.slice(0, -1), "c(4, 5);"];
    forgetParses();
    const fresh = parse(ask(other))!;
    forgetParses();
    expect(parse(ask(old))).not.toBeNull();
    // It takes too long, and more than once is looked at how long it takes.
    let now = 0;
    const tick = () => {
      now += 4_000;
      return now;
    };
    const clocks = [vi.spyOn(performance, "now"), vi.spyOn(threadTime, "now")];
    for (const clock of clocks) clock.mockImplementation(tick);
    expect(parse(ask(["d(9);", ...old, ...Array<string>(5_000).fill("f(x, y);")], old))).toBeNull();
    for (const clock of clocks) clock.mockRestore();
    expect(parts(parse(ask(other, old))!)).toEqual(parts(fresh));
  });
});
