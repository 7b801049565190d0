import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { runScript } from "@/server/testing/run-script";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../grammar/parse";
import { tries } from "../testing/tries";
import { readTexts } from "./read-texts";
import { JAVASCRIPT } from "./testing/javascript";
import { changedPrograms, isWhollyQuiet } from "./testing/programs";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

describe("a script of which nothing is to be read but blocks that run what is in them", () => {
  it("does what it did", () => {
    let [quiet, nested] = [0, 0];
    fc.assert(
      fc.property(changedPrograms(JAVASCRIPT), ([old, next]) => {
        const reading = readTexts({ [JAVASCRIPT.path]: { old, next } }, parse);
        if (!isWhollyQuiet(reading, { old, next }, JAVASCRIPT)) return;
        quiet++;
        if (reading.counts.nested > 0) nested++;
        expect(runScript(next)).toEqual(runScript(old));
      }),
      { numRuns: tries(500) },
    );
    // A third of them are, as a rule.
    expect(quiet).toBeGreaterThan(tries(500) / 20);
    expect(nested).toBeGreaterThan(0);
  });
});
