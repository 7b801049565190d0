import { join } from "node:path";
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import { languageById } from "@/core/grammar/languages";
import type { ParseAsk } from "@/core/grammar/parse";
import { unpackReading } from "@/core/quiet/packed";
import { Bench } from "../../testing/bench";
import { threadTime } from "../thread-time";
import { forgetParses, grammars, memoryTaken, parseWhole } from "./grammars";

const csharp = languageById("csharp");
const asked = (text: string): ParseAsk => ({ language: csharp, text, interest: [0, text.length] });
const HONEST = "class Quay { int tide; }\n";
/** 150 kB, for which this grammar takes all memory there is: each of these signs may begin the arguments of a type. */
const GREEDY = `class Quay { void Hold() { ${"a<".repeat(75_000)} } }\n`;

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
});
afterAll(() => bench.clear());
afterEach(forgetParses);

describe("a text that takes more memory than there is for it", () => {
  it("proves nothing, is the only one that suffers from it, and its memory is given back", async () => {
    let parse = await grammars(["csharp"]);
    const before = memoryTaken();
    expect(parse(asked(HONEST))).not.toBeNull();
    expect(parse(asked(GREEDY))).toBeNull();
    expect(memoryTaken()).toBeLessThan(before);
    // Until something else is begun nothing is read; and then all that was not read is.
    const other = `${HONEST}${HONEST}`;
    expect(parse(asked(other))).toBeNull();
    parse = await grammars(["csharp"]);
    expect(memoryTaken()).toBe(before);
    expect(parse(asked(other))).not.toBeNull();
    // What is only shown is read in the same way.
    expect(parseWhole(csharp, GREEDY)).toBeNull();
    await grammars(["csharp"]);
    expect(parseWhole(csharp, other)?.tokens.length).toBeGreaterThan(10);
  });

  it("keeps nobody from reading the change set that it is in, nor the next one", async () => {
    const quay = (indent: string) => `class Quay {\n${indent}int tide;\n${indent}int ebb;\n}\n`;
    const work = await bench.repository("greedy", {
      main: [{ "Greedy.cs": quay("  ") + GREEDY, "Quay.cs": quay("  ") }],
      topic: [{ "Greedy.cs": quay("    ") + GREEDY }],
      another: [{ "Quay.cs": quay("    ") }],
    });
    const read = async (topic: string) => {
      const [from, to] = [await bench.git(work, "rev-parse", "main"), await bench.git(work, "rev-parse", topic)];
      const task = { folder: join(work, ".git"), from, to, settings: from };
      return unpackReading(await bench.app.workers.read(task, () => undefined));
    };
    expect(await read("topic")).toMatchObject({ changed: 4, toRead: 4 });
    expect(await read("another")).toMatchObject({ changed: 4, toRead: 0 });
  });
});

describe("texts that prove nothing", () => {
  it("are read no more when they took long together, and neither is what else there is of it", async () => {
    let now = 0;
    const clock = vi.spyOn(threadTime, "now").mockImplementation(() => {
      now += 1_000;
      return now;
    });
    let parse = await grammars(["csharp"]);
    expect(parse(asked(HONEST))).not.toBeNull();
    for (let n = 1; n <= 40; n++) expect(parse(asked(`class ${"(".repeat(n)}\n`))).toBeNull();
    const other = `${HONEST}\n${HONEST}`;
    expect(parse(asked(other))).toBeNull();
    clock.mockRestore();
    parse = await grammars(["csharp"]);
    expect(parse(asked(other))).not.toBeNull();
  });
});
