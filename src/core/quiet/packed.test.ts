import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { CLASSES, type ClassRun } from "./classes";
import { packReading, unpackReading } from "./packed";
import { type FileFindings, type Findings, wholeReading } from "./whole-reading";

const count = fc.nat({ max: 1_000 });
const words = fc.string({ unit: "grapheme", maxLength: 12 });
const id = fc.option(fc.stringMatching(/^[0-9a-f]{40}$/), { nil: null });
const mode = fc.constantFrom(0, 0o100644, 0o100755, 0o120000, 0o160000);
const side = fc.constantFrom("old" as const, "new" as const);
const run: fc.Arbitrary<ClassRun> = fc
  .tuple(side, count, fc.integer({ min: 1, max: 50 }), fc.constantFrom(...CLASSES), fc.integer({ min: -1, max: 9 }))
  .map(([on, start, length, kind, ref]) => ({ side: on, start, end: start + length, class: kind, ref }));
const pinned = fc.record({ name: words, version: words });
const file: fc.Arbitrary<FileFindings> = fc.record({
  ...{ path: words, rawPath: fc.option(words, { nil: undefined }), oldPath: fc.option(words, { nil: null }) },
  ...{ copy: fc.boolean(), similarity: fc.option(count, { nil: null }), oldId: id, newId: id },
  ...{ oldMode: mode, newMode: mode, binary: fc.boolean(), generated: fc.option(words, { nil: null }) },
  runs: fc.array(run, { maxLength: 6 }),
  facts: fc.array(fc.record({ kind: fc.constantFrom("became" as const, "copied" as const), says: words })),
  cautions: fc.array(
    fc.record({
      kind: fc.constantFrom("hidden" as const, "link" as const),
      says: words,
      line: fc.option(count, { nil: null }),
    }),
  ),
  lock: fc.option(
    fc.record({
      ...{ added: fc.array(pinned), removed: fc.array(pinned), concerns: fc.array(words) },
      changed: fc.array(fc.record({ name: words, from: words, to: words })),
    }),
    { nil: null },
  ),
});
const lines = fc.record({ start: count, end: count });
const place = fc.record({ file: count, start: count, end: count, within: fc.option(words, { nil: null }) });
const findings: fc.Arbitrary<Findings> = fc.record({
  files: fc.array(file, { maxLength: 5 }),
  moves: fc.array(fc.record({ from: place, to: place, edited: count })),
  replacements: fc.constant([]),
  echoes: fc.array(
    fc.record({
      file: count,
      old: lines,
      next: lines,
      times: count,
      names: fc.array(fc.record({ from: words, to: words })),
    }),
  ),
  alike: fc.constant([]),
});

describe("a packed reading", () => {
  it("is the same when it is unpacked, whatever was found", () => {
    fc.assert(
      fc.property(findings, (found) => {
        const reading = wholeReading(found);
        expect(unpackReading(packReading(reading))).toEqual(reading);
      }),
    );
  });

  it("gives each file lists of its own", () => {
    const none = { oldPath: null, copy: false, similarity: null, oldId: "a", newId: "b", binary: false };
    const modes = { oldMode: 0o100644, newMode: 0o100644, generated: null, lock: null };
    const one = { ...none, ...modes, path: "a.ts", runs: [], facts: [], cautions: [] };
    const reading = wholeReading({
      ...{ files: [one, { ...one, path: "b.ts" }] },
      ...{ moves: [], replacements: [], echoes: [], alike: [] },
    });
    const [a, b] = unpackReading(packReading(reading)).files;
    a.facts.push({ kind: "became", says: "What was a file is a symbolic link now." });
    expect(b.facts).toEqual([]);
  });
});
