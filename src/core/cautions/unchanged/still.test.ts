import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import { diffLines } from "../../diff/lines";
import type { Parse } from "../../grammar/parse";
import { ClassedFile } from "../../quiet/classes";
import { readTexts } from "../../quiet/read-texts";
import { stillOf } from "./still";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const read = (path: string, old: string, next: string) => {
  const { cautions, toRead } = readTexts({ [path]: { old, next } }, parse).files[0];
  return { toRead, says: cautions.map(({ says }) => says) };
};
const checks = (line: string) => Array.from({ length: 20 }, (_, n) => line.replace("#", `${n}`)).join("");
const withReturns = (text: string) => text.replaceAll("\n", "\r\n");
const plain = checks("  check(berth, #);\n");
const old = `function f() {\n${plain}}\n`;

describe("lines that changed in nothing that has to be read", () => {
  it.each<[what: string, path: string, old: string, next: string, toRead: number, says: string]>([
    [
      "other ends, and a way out",
      "a.js",
      old,
      withReturns(`function f() {\n  return;\n${plain}}\n`),
      1,
      "stand where nothing is reached any more",
    ],
    [
      "other ends, and a comment",
      "a.js",
      old,
      withReturns(`function f() {\n  /*\n${plain}  */\n}\n`),
      2,
      "are in a comment now",
    ],
    [
      "other ends, and a condition",
      "a.js",
      old,
      withReturns(`function f() {\n  if (trial) {\n${plain}  }\n}\n`),
      2,
      "stand within “if (trial) {” now",
    ],
    [
      "other ends, and a condition",
      "a.c",
      old.replace("function", "int"),
      withReturns(`int f() {\n#if 0\n${plain}#endif\n}\n`),
      2,
      "stand under another condition now: #if 0",
    ],
    [
      "other depths, and a way out",
      "a.js",
      old,
      `function f() {\n  return;\n${plain.replaceAll("  check", "    check")}}\n`,
      1,
      "stand where nothing is reached any more",
    ],
    [
      "other lengths, and a way out",
      "a.js",
      `function f() {\n${checks("  check(berth,\n    #);\n")}}\n`,
      `function f() {\n  return;\n${plain}}\n`,
      1,
      "stand where nothing is reached any more",
    ],
    [
      "other lengths, and a way out",
      "a.js",
      old,
      `function f() {\n  return;\n${checks("  check(berth,\n    #);\n")}}\n`,
      1,
      "stand where nothing is reached any more",
    ],
    [
      "other quotes, and a way out",
      "a.js",
      `function f() {\n${checks("  check('berth', #);\n")}}\n`,
      `function f() {\n  return;\n${checks('  check("berth", #);\n')}}\n`,
      1,
      "stand where nothing is reached any more",
    ],
  ])("are told as those that did not change: %s in %s", (_, path, old, next, toRead, says) => {
    const found = read(path, old, next);
    expect(found).toEqual({ toRead, says: [expect.stringContaining(says)] });
    expect(found.says[0]).toMatch(/^\d+ unchanged or quiet lines /);
  });

  it("are told where a function was parted in two, though its head only ends otherwise", () => {
    const whole = `function f() {\n  open();\n${plain}}\n`;
    const parted = withReturns(`function f() {\n  open();\n}\nfunction unused() {\n${plain}}\n`);
    expect(read("a.js", whole, parted)).toEqual({
      toRead: 2,
      says: ["20 unchanged or quiet lines stand within “function unused() {” now, and stood within “function f() {”."],
    });
  });

  it("are paired where one was joined and another parted", () => {
    const [joined, split] = ["  a(1, 2);\n", "  b(\n    3,\n  );\n"];
    const before = `function f() {\n  a(\n    1,\n    2);\n${plain}  b(3,);\n}\n`;
    const { says } = read(
      "a.js",
      before,
      `function f() {\n  return;\n${joined}${plain.replaceAll("  check", "\tcheck")}${split}}\n`,
    );
    expect(says).toEqual([expect.stringContaining("stand where nothing is reached any more")]);
  });

  it("hold together what empty lines part", () => {
    const lines = plain.split("\n");
    const parted = lines.flatMap((line, n) => (n % 5 === 0 ? ["", line] : [line])).join("\n");
    const { says } = read("a.js", old, `function f() {\n  return;\n${parted}}\n`);
    expect(says).toEqual([expect.stringMatching(/^20 unchanged lines stand where nothing is reached any more/)]);
  });

  it("name what a line that is added names again", () => {
    const before = `def allowed():\n  return True\n\n${checks("check(#)\n")}`;
    expect(read("a.py", before, withReturns(`${before}\ndef allowed():\n  return False\n`)).says).toEqual([
      "“allowed” is named in line 1 as well: what stands here counts.",
    ]);
  });

  it("are told of nothing where nothing else changed", () => {
    for (const next of [withReturns(old), old.replaceAll("  check", "    check")])
      expect(read("a.js", old, next)).toEqual({ toRead: 0, says: [] });
  });

  it("leave hunks that hold every other changed line once, and the same lines between them", () => {
    const line = fc.constantFrom("a(1);", "  a(1);", "b();", "b() ;", "c;", "\tc;", "d(", ")");
    fc.assert(
      fc.property(
        fc.array(line, { maxLength: 12 }),
        fc.array(line, { maxLength: 12 }),
        fc.infiniteStream(fc.boolean()),
        (before, after, quiet) => {
          const file = new ClassedFile("a.js", before, after, diffLines(before, after));
          for (const { oldStart, oldEnd, newStart, newEnd } of file.hunks) {
            for (let at = oldStart; at < oldEnd; at++) if (quiet.next().value) file.set("old", at, "layout");
            for (let at = newStart; at < newEnd; at++) if (quiet.next().value) file.set("new", at, "layout");
          }
          const { hunks } = stillOf(file);
          let [i, j] = [0, 0];
          for (const { oldStart, oldEnd, newStart, newEnd } of hunks) {
            // As many on both sides, of which none is to be read.
            expect(oldStart - i).toBe(newStart - j);
            for (; i < oldStart; i++, j++)
              expect([file.classAt("old", i), file.classAt("new", j)]).not.toContain("read");
            [i, j] = [oldEnd, newEnd];
          }
          expect(before.length - i).toBe(after.length - j);
        },
      ),
    );
  });
});
