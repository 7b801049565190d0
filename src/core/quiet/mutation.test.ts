import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../grammar/parse";
import { HARMLESS } from "./foolable";
import { readTexts } from "./read-texts";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

/** What one token becomes, each more or less of the same kind. */
const OTHERS: [kind: RegExp, others: string[]][] = [
  [/^\d+$/, ["0", "97"]],
  [/^[\p{L}_$]/u, ["evil", "false"]],
  [/./, [";", "+", ")"]],
];

/** Each way in which one token of a line can become another. */
function* mutants(line: string): Generator<string> {
  for (const { 0: token, index } of line.matchAll(/[\p{L}\p{N}_$]+|[^\s\p{L}\p{N}_$]/gu)) {
    const [, others] = OTHERS.find(([kind]) => kind.test(token))!;
    for (const other of others)
      if (other !== token) yield line.slice(0, index) + other + line.slice(index + token.length);
  }
}

describe("a single token changed in a quiet line", () => {
  it("is to be read, whichever token of whichever harmless change it is", () => {
    let made = 0;
    for (const { files, what } of HARMLESS) {
      const reading = readTexts(files, parse);
      for (const { path, runs } of reading.files) {
        // Nothing is promised of single tokens where somebody says that the whole is generated.
        for (const run of runs.filter(({ side, class: kind }) => side === "new" && kind !== "generated")) {
          const lines = files[path].next!.split("\n");
          for (let line = run.start; line < run.end; line++) {
            for (const mutant of lines[line].trim() === "" ? [`${lines[line]}x`] : mutants(lines[line])) {
              made++;
              const next = lines.with(line, mutant).join("\n");
              const again = readTexts({ ...files, [path]: { ...files[path], next } }, parse);
              const found = again.files
                .find((file) => file.path === path)!
                .runs.find(({ side, start, end }) => side === "new" && start <= line && line < end);
              expect(found?.class ?? "read", `${what}: ${lines[line]} → ${mutant}`).toBe("read");
            }
          }
        }
      }
    }
    expect(made).toBeGreaterThan(1_000);
  });
});
