import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { coverageOf, isBelow, isLcov, readCobertura, readLcov } from "./coverage";
import { coverageWords, type FileCoverage } from "./report";

const LCOV = `TN:all
SF:./src/quay.ts
FN:1,berth
DA:1,4
DA:2,0
DA:3,0,checksum
BRDA:2,0,0,-
LF:3
end_of_record
SF:../../etc/passwd
DA:1,1
end_of_record
DA:9,0
`;

const COBERTURA = `<?xml version="1.0"?>
<!DOCTYPE coverage SYSTEM "http://cobertura.example/coverage-04.dtd">
<coverage line-rate="0.5"><packages><package name="p"><classes>
<class name="Quay" filename="src/quay.ts"><methods><method name="m"><lines><line number="1" hits="4"/></lines></method></methods>
<lines><line number="1" hits="4"/><line number="2" hits="0" branch="false"/><line number="3" hits="0"/></lines></class>
</classes></package></packages></coverage>`;

const files = (read: ReturnType<typeof readLcov>) => (read.ok ? read.value.coverage : read.refusal.reason);

describe("coverage", () => {
  it("is read from both formats to the same, without what leads out of the tree", () => {
    const quay = { path: "src/quay.ts", run: new Set([1]), missed: new Set([2, 3]) };
    expect(files(readLcov(LCOV))).toEqual([quay]);
    expect(files(readCobertura(COBERTURA))).toEqual([quay]);
    expect([isLcov(LCOV), isLcov("# made by x\nSF:a\n"), isLcov("a.ts:1: TN: no")]).toEqual([true, true, false]);
  });

  it("counts a line as run when one of several tests ran it, whichever came first", () => {
    for (const text of ["SF:a\nDA:1,0\nDA:1,2\n", "SF:a\nDA:1,2\nend_of_record\nSF:a\nDA:1,0\n"])
      expect(files(readLcov(text))).toEqual([{ path: "a", run: new Set([1]), missed: new Set() }]);
  });

  it("refuses what tells of no line, is broken, or declares entities", () => {
    expect(files(readLcov("SF:a\nDA:x,1\nDA:-1,1\nDA:1,-1\n"))).toMatch(/no line/);
    expect(files(readCobertura("<coverage><class filename='a'>"))).toMatch(/well-formed/);
    expect(files(readCobertura('<!DOCTYPE c [<!ENTITY x "y">]><coverage/>'))).toMatch(/entities/);
  });

  it("tells of changed lines alone: in stretches, each line once, and their sum", () => {
    const line = fc.constantFrom("run", "missed", "none");
    fc.assert(
      fc.property(
        fc.array(line, { maxLength: 40 }),
        fc.array(fc.boolean(), { minLength: 40, maxLength: 40 }),
        (of, changed) => {
          const with_ = (what: string) => new Set(of.flatMap((is, i) => (is === what ? [i + 1] : [])));
          const file: FileCoverage = { path: "a", run: with_("run"), missed: with_("missed") };
          const lines = of.flatMap((_, i) => (changed[i] ? [{ start: i, end: i + 1 }] : []));
          const { findings, changed: counts } = coverageOf(
            [file],
            [
              { path: "a", lines },
              { path: "other", lines },
            ],
          );
          const expected = [...file.missed].filter((one) => changed[one - 1]);
          const told = findings.flatMap(({ line: first, endLine }) =>
            Array.from({ length: endLine! - first! + 1 }, (_, i) => first! + i),
          );
          expect(told).toEqual(expected);
          expect(counts).toEqual({
            run: [...file.run].filter((one) => changed[one - 1]).length,
            missed: expected.length,
          });
        },
      ),
    );
    const whole = coverageOf(
      [{ path: "a", run: new Set([3]), missed: new Set([1, 2, 5]) }],
      [{ path: "a", lines: [{ start: 0, end: 6 }] }],
    );
    expect(whole.findings.map(({ line: first, endLine }) => [first, endLine])).toEqual([
      [1, 2],
      [5, 5],
    ]);
  });

  it("is said in words, and held against the least that is asked for", () => {
    expect(coverageWords({ run: 0, missed: 0 })).toBe("no changed line is one that tests could run");
    expect(coverageWords({ run: 3, missed: 0 })).toBe("all 3 changed lines are run by tests");
    expect(coverageWords({ run: 3, missed: 1 })).toBe("1 of 4 changed lines is run by no test");
    expect([isBelow({ run: 3, missed: 1 }, 75), isBelow({ run: 3, missed: 1 }, 76)]).toEqual([false, true]);
    expect(isBelow({ run: 0, missed: 0 }, 100)).toBe(false);
  });
});
