import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { diffLines } from "@/core/diff/lines";
import { languageById } from "@/core/grammar/languages";
import type { Parse, ParseAsk } from "@/core/grammar/parse";
import type { Syntax } from "@/core/grammar/syntax";
import { unpackReading } from "@/core/quiet/packed";
import { ObjectReader } from "@/git/objects";
import { Bench } from "../../testing/bench";
import { compareTrees } from "../tree";
import { type AheadBatch, ReadAhead, readBatch } from "./ahead";
import { allGrammars } from "./grammars";

let bench: Bench;
let parse: Parse;
beforeAll(async () => {
  [bench, parse] = [await Bench.set(), await allGrammars()];
});
afterAll(() => bench.clear());

/** Both states of a file, as they are asked for. */
function fileOf(name: string): ParseAsk[] {
  const language = languageById("typescript");
  const lines = (last: string) => [`export const ${name} = 1;`, `const held = [${name}];`, last];
  const [old, next] = [lines("go();"), lines("  go( );")];
  const text = (of: string[]) => `${of.join("\n")}\n`;
  return [
    { language, text: text(old), interest: [0, 90] },
    { language, text: text(next), interest: [0, 90], before: { text: text(old), hunks: diffLines(old, next) } },
  ];
}

const lists = (syntax: Syntax | null) =>
  syntax && [syntax.type, syntax.depth, syntax.start, syntax.end, syntax.parent, syntax.tokens, syntax.lines];

function reading() {
  const here: string[] = [];
  let other = Promise.resolve();
  const ahead = new ReadAhead(
    (ask) => {
      here.push(ask.text);
      return parse(ask);
    },
    (batch) => {
      other = readBatch(batch);
    },
  );
  return { ahead, here, other: () => other };
}

describe("reading ahead", () => {
  const files = ["alpha", "bravo", "charlie"].map(fileOf);

  it("gives what the other thread read, the very same, and reads nothing twice", async () => {
    const { ahead, here, other } = reading();
    ahead.parse.ahead!(files);
    await other();
    for (const ask of files.flat()) {
      const read = ahead.parse(ask);
      expect(lists(read)).toEqual(lists(parse(ask)));
      expect(read).toMatchObject({ text: ask.text, language: ask.language });
      expect(read!.typeName(read!.type[0])).toBe("program");
    }
    expect(here).toEqual([]);
    ahead.end();
  });

  it("leaves to the other what was not begun here, and reads here what the other did not come to", async () => {
    const { ahead, here, other } = reading();
    ahead.parse.ahead!(files);
    const [old, next] = files[0];
    ahead.parse(old);
    await other();
    for (const ask of [next, ...files[1]]) expect(lists(ahead.parse(ask))).toEqual(lists(parse(ask)));
    expect(here).toEqual([old.text, next.text]);
    ahead.end();
    const late = reading();
    late.ahead.parse.ahead!(files);
    late.ahead.end();
    await late.other();
    expect(lists(late.ahead.parse(old))).toEqual(lists(parse(old)));
    expect(late.here).toEqual([old.text]);
  });

  it("reads once what several files say, whoever comes to it first", async () => {
    const { ahead, here, other } = reading();
    const [twin, again] = [fileOf("alpha"), fileOf("alpha")];
    const [old, next] = fileOf("alpha");
    const elsewhere = [old, { ...next, interest: [40, 90] }];
    let given = 0;
    const counted = new ReadAhead(parse, ({ files: some }) => {
      given += some.length;
    });
    counted.parse.ahead!([...files, twin, elsewhere]);
    counted.parse.ahead!([again, files[0]]);
    expect(given).toBe(4);
    counted.end();
    ahead.parse.ahead!([...files, twin]);
    ahead.parse.ahead!([again, elsewhere]);
    await other();
    for (const ask of [...twin, ...again]) expect(lists(ahead.parse(ask))).toEqual(lists(parse(ask)));
    expect(here).toEqual([]);
    ahead.end();
  });

  it("reads what nobody has while the other is at what is asked for, and keeps it", () => {
    const here: string[] = [];
    let batch!: AheadBatch;
    const [THERE, DONE] = [2, 3];
    const isRead = (file: number) => {
      const lists = files[file].map((ask) => {
        const { type, depth, start, end, parent, tokens, lines } = parse(ask)!;
        return { type, depth, start, end, parent, tokens, lines };
      });
      batch.port.postMessage({ file, lists });
      Atomics.store(batch.claims, file, DONE);
    };
    const ahead = new ReadAhead(
      (ask) => {
        here.push(ask.text);
        // Meanwhile the other comes to the end of what it has.
        if (ask === files[0][1]) isRead(2);
        return parse(ask);
      },
      (given) => {
        batch = given;
        Atomics.store(batch.claims, 2, THERE);
      },
    );
    ahead.parse.ahead!(files);
    for (const ask of [...files[2], ...files[0]]) expect(lists(ahead.parse(ask))).toEqual(lists(parse(ask)));
    expect(here).toEqual(files[0].map(({ text }) => text));
    ahead.end();
  });

  it("reads once what it read in place of waiting, also where that proves nothing", () => {
    const here: string[] = [];
    const wrong: ParseAsk = { language: languageById("typescript"), text: "const = (;\n", interest: [0, 10] };
    let claims!: Int32Array;
    const [THERE, DONE] = [2, 3];
    const ahead = new ReadAhead(
      (ask) => {
        here.push(ask.text);
        if (ask === wrong) Atomics.store(claims, 1, DONE);
        return parse(ask);
      },
      (given) => {
        claims = given.claims;
        Atomics.store(claims, 1, THERE);
      },
    );
    ahead.parse.ahead!([[wrong], files[0]]);
    expect(lists(ahead.parse(files[0][0]))).toEqual(lists(parse(files[0][0])));
    expect(ahead.parse(wrong)).toBeNull();
    expect(here.filter((text) => text === wrong.text)).toHaveLength(1);
    ahead.end();
  });

  it("gives away one file alone, and by itself each state that is not read from the one before it", () => {
    const given: string[][] = [];
    const ahead = new ReadAhead(parse, (batch) => {
      given.push(batch.files.map((texts) => texts.map(({ text }) => text).join("|")));
    });
    const [old, next] = files[0];
    ahead.parse.ahead!([[old, next]]);
    expect(given).toEqual([[`${old.text}|${next.text}`]]);
    const { before: _, ...anew } = files[1][1];
    ahead.parse.ahead!([[files[1][0], anew]]);
    expect(given[1]).toEqual([files[1][0].text, anew.text]);
    ahead.end();
  });

  it("says nothing of what is wrong in a text, and of what nobody announced", async () => {
    const { ahead, here, other } = reading();
    const wrong: ParseAsk = { language: languageById("typescript"), text: "const = (;\n", interest: [0, 10] };
    ahead.parse.ahead!([[wrong], files[1]]);
    await other();
    expect(ahead.parse(wrong)).toBeNull();
    expect(here).toEqual([]);
    expect(lists(ahead.parse(files[2][0]))).toEqual(lists(parse(files[2][0])));
    expect(here).toEqual([files[2][0].text]);
    ahead.end();
  });

  it("makes the same reading as one thread alone, on threads of their own", async () => {
    const body = (indent: string, word: string) =>
      Array.from({ length: 30 }, (_, i) => `${indent}${word}.hold(berth, ${i});\n`).join("");
    // One half is indented anew, in the other a name is replaced.
    const tree = (indent: string, word: string) =>
      Object.fromEntries(
        Array.from({ length: 40 }, (_, n) => [`f${n}.ts`, `{\n${n % 2 ? body("  ", word) : body(indent, "gauge")}}\n`]),
      );
    const work = await bench.repository("ahead", { main: [tree("  ", "tide")], topic: [tree("    ", "ebb")] });
    const [from, to] = [await bench.git(work, "rev-parse", "main"), await bench.git(work, "rev-parse", "topic")];
    const folder = join(work, ".git");
    const objects = new ObjectReader(folder);
    const { reading: alone } = await compareTrees(objects, from, to);
    objects.close();
    const task = { folder, from, to, settings: from };
    const two = await Promise.all([1, 2, 3].map(() => bench.app.workers.read(task, () => undefined)));
    for (const read of two) expect(unpackReading(read)).toEqual(alone);
    expect(alone.counts).toMatchObject({ read: 0, moved: 0, layout: 2 * 20 * 30, repeated: 2 * 20 * 30 });
  });
});
