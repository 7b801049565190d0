import { describe, expect, it } from "vitest";
import { readCommands } from "./commands";
import { readJunit } from "./junit";
import { withPlaces } from "./places";
import { asKept, hasFailed, MOST_FINDINGS, pathWithin, type Report, summaryOf } from "./report";
import { readSarif } from "./sarif";

const good = (outcome: ReturnType<typeof readJunit>): Report => {
  if (!outcome.ok) throw new Error(outcome.refusal.reason);
  return outcome.value;
};
const bad = (outcome: ReturnType<typeof readJunit>): string => (outcome.ok ? "" : outcome.refusal.reason);

describe("JUnit XML", () => {
  it("tells what failed and where, by attribute or by the text of the failure", () => {
    const report = good(
      readJunit(`<?xml version="1.0" encoding="UTF-8"?>
<testsuites name="all" tests="4"><testsuite name="quay" file="src/quay.test.ts">
  <testcase classname="quay" name="opens &lt;gate&gt;" line="12"><failure message="expected 1" type="AssertionError"><![CDATA[at quay]]></failure></testcase>
  <testcase name="closes"/><testcase name="waits"><skipped/></testcase>
</testsuite><testsuite name="tide"><testcase classname="t" name="rises"><error>TypeError: x
    at rise (src/tide.ts:42:7)</error></testcase></testsuite></testsuites>`),
    );
    expect(report.tests).toEqual({ passed: 1, failed: 2, skipped: 1 });
    expect(report.findings).toMatchObject([
      {
        tool: "quay",
        name: "quay: opens <gate>",
        level: "error",
        path: "src/quay.test.ts",
        line: 12,
        message: "expected 1\nat quay",
      },
      { tool: "tide", name: "t: rises", path: "src/tide.ts", line: 42 },
    ]);
    expect([hasFailed(report), summaryOf(report)]).toEqual([true, "1 test passed, 2 failed, 1 skipped"]);
    expect(hasFailed(good(readJunit('<testsuite><testcase name="a"/></testsuite>')))).toBe(false);
  });

  it("is refused with a sentence when it is something else, broken, too deep, or a bomb", () => {
    const bomb = `<!DOCTYPE b [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><testsuite><testcase name="&b;"/></testsuite>`;
    expect(bad(readJunit(bomb))).toMatch(/declares a document type/);
    expect(bad(readJunit("<testsuite><testcase></testsuite>"))).toMatch(/not well-formed XML/);
    expect(bad(readJunit("<testsuite>&undefined;</testsuite>"))).toMatch(/not well-formed XML/);
    expect(bad(readJunit("<html/>"))).toMatch(/begins with <testsuites> or <testsuite>; this begins with <html>/);
    expect(bad(readJunit(`${"<testsuite>".repeat(200)}${"</testsuite>".repeat(200)}`))).toMatch(
      /nested more than 100 deep/,
    );
    expect(bad(readJunit(""))).not.toBe("");
    const many = `<testsuite>${'<testcase name="a"><failure/></testcase>'.repeat(MOST_FINDINGS + 5)}</testsuite>`;
    expect(good(readJunit(many))).toMatchObject({ more: 5, tests: { failed: MOST_FINDINGS + 5 } });
  });
});

describe("SARIF", () => {
  const log = (results: object[], driver: object = {}) =>
    JSON.stringify({
      $schema: "x",
      version: "2.1.0",
      runs: [{ tool: { driver: { name: "lint", ...driver } }, results }],
    });
  const at = (uri: string, startLine?: number) => ({
    locations: [{ physicalLocation: { artifactLocation: { uri }, region: { startLine } } }],
  });

  it("tells results with their rule, level, message and place", () => {
    const rules = [
      { id: "R1", defaultConfiguration: { level: "error" }, messageStrings: { default: { text: "{0} is bad" } } },
    ];
    const report = good(
      readSarif(
        log(
          [
            { ruleIndex: 0, message: { id: "default", arguments: ["this"] }, ...at("file:///src/a%20b.ts", 3) },
            { ruleId: "R2", level: "note", message: { text: "Hm" }, ...at("./src/b.ts") },
            { ruleId: "R3", message: { text: "no place" } },
            { ruleId: "R4", kind: "pass", message: { text: "fine" } },
            { ruleId: "R5", suppressions: [{ kind: "inSource" }], message: { text: "known" } },
          ],
          { rules },
        ),
      ),
    );
    expect(report.findings).toMatchObject([
      { tool: "lint", name: "R1", level: "error", message: "this is bad", path: "src/a b.ts", line: 3 },
      { name: "R2", level: "note", path: "src/b.ts", line: null },
      { name: "R3", level: "warning", path: null },
    ]);
    expect([hasFailed(report), summaryOf(report)]).toEqual([true, "3 findings"]);
    expect(hasFailed(good(readSarif(log([{ message: { text: "a warning" } }]))))).toBe(false);
  });

  it("finds rules of extensions by their ids, takes null for what is not said, and counts errors beyond those that are kept", () => {
    const run = {
      tool: {
        driver: { name: "scan", rules: [{ id: "other" }] },
        extensions: [{ rules: [{ id: "js/leak", defaultConfiguration: { level: "error" } }] }],
      },
      results: [
        {
          ruleId: "js/leak",
          rule: { id: "js/leak", index: 0, toolComponent: { index: 0 } },
          suppressions: null,
          message: { text: "x" },
        },
      ],
    };
    const read = good(readSarif(JSON.stringify({ version: "2.1.0", runs: [run] })));
    expect(read.findings).toMatchObject([{ name: "js/leak", level: "error" }]);
    const notes = Array.from({ length: MOST_FINDINGS }, () => ({ level: "note", message: { text: "n" } }));
    const many = good(readSarif(log([...notes, { level: "error", message: { text: "e" } }])));
    expect([many.findings.length, many.more, hasFailed(many)]).toEqual([MOST_FINDINGS, 1, true]);
  });

  it("is refused with what is wrong with it", () => {
    expect(bad(readSarif("{"))).toBe("This is not JSON.");
    expect(bad(readSarif('{"version":"2.0.0","runs":[]}'))).toMatch(/Only SARIF 2\.1\.0/);
    expect(bad(readSarif('{"version":"2.1.0"}'))).toMatch(/runs/);
    expect(bad(readSarif('{"version":"2.1.0","runs":[{"tool":{"driver":{}}}]}'))).toMatch(/tool/);
  });
});

describe("places", () => {
  const paths = [
    "src/quay.ts",
    "tests/test_quay.py",
    "src/test/java/org/harbour/QuayTest.java",
    "a/same.go",
    "b/same.go",
  ];
  const at = (path: string | null, unit?: string, places: { path: string; line: number }[] = []) => {
    const finding = {
      tool: "t",
      name: "n",
      level: "error" as const,
      message: "",
      path,
      line: 1,
      endLine: 1,
      ...(unit ? { clues: { unit, places: [{ path: "usr/lib/assert.py", line: 9 }, ...places] } } : {}),
    };
    return withPlaces({ format: "junit", findings: [finding], more: 0, errors: 1, tests: null }, paths).findings[0]
      .path;
  };
  it("are found whichever way a tool names them", () => {
    expect([at("home/runner/work/quay/quay/src/quay.ts"), at("QuayTest.java"), at("test_quay.py")]).toEqual([
      paths[0],
      paths[2],
      paths[1],
    ]);
    expect([
      at(null, "tests.test_quay.TestQuay"),
      at(null, "org.harbour.QuayTest"),
      at("same.go"),
      at("gone.ts"),
      at(null),
    ]).toEqual([paths[1], paths[2], "same.go", "gone.ts", null]);
  });

  it("are those of the repository among all that a failure speaks of", () => {
    const spoken = [{ path: "home/x/quay/src/quay.ts", line: 7 }];
    expect(at(null, "QuayTest", spoken)).toBe("src/quay.ts");
    const report = good(
      readJunit(`<testsuite><testcase classname="org.harbour.QuayTest" name="opens"><failure>java.lang.AssertionError
\tat org.junit.Assert.fail(Assert.java:88)
\tat org.harbour.QuayTest.opens(QuayTest.java:42)</failure></testcase></testsuite>`),
    );
    expect(withPlaces(report, paths).findings[0]).toMatchObject({ path: paths[2], line: 42, endLine: 42 });
    expect(withPlaces(report, paths).findings[0]).not.toHaveProperty("clues");
  });

  it("are found for many findings in many files", () => {
    const many = Array.from({ length: 20_000 }, (_, i) => `part${i % 90}/deep/file${i}.ts`);
    const clues = { unit: "deep.file77.Suite.case", places: [{ path: "usr/lib/x.ts", line: 1 }] };
    const finding = {
      tool: "t",
      name: "n",
      level: "error" as const,
      message: "",
      path: null,
      line: null,
      endLine: null,
      clues,
    };
    const findings = Array.from({ length: MOST_FINDINGS }, () => finding);
    const placed = withPlaces({ format: "junit", findings, more: 0, errors: 0, tests: null }, many);
    expect(placed.findings[0].path).toBe("part77/deep/file77.ts");
  });

  it("of folders in folders without end are none, and no name is longer than it is shown", () => {
    const long = "n".repeat(1_000_000);
    const endless = `${"a/".repeat(500_000)}b.ts`;
    const report = good(
      readJunit(
        `<testsuite name="${long}" file="${endless}"><testcase classname="${endless}" name="${long}"><failure>${endless}:1</failure></testcase></testsuite>`,
      ),
    );
    const [finding] = withPlaces(report, ["a/b.ts", "b.ts"]).findings;
    expect(finding).toMatchObject({ path: null, line: null, tool: "n".repeat(300) });
    expect(finding.name).toHaveLength(300);
    const log = { version: "2.1.0", runs: [{ tool: { driver: { name: long } }, results: [{ ruleId: long }] }] };
    const [other] = good(readSarif(JSON.stringify(log))).findings;
    expect([other.tool.length, other.name.length]).toEqual([300, 300]);
    // As long as paths may be it is looked for, behind each of its folders.
    const deep = `${"a/".repeat(2_000)}src/b.ts`;
    const line = { tool: "t", name: "", level: "note" as const, message: "", path: deep, line: 1, endLine: 1 };
    const told = { format: "plain" as const, findings: [line], more: 0, errors: 0, tests: null };
    expect(withPlaces(told, ["src/b.ts"]).findings[0].path).toBe("src/b.ts");
  });

  it("are kept as far as there is room for them, and the others counted", () => {
    const finding = { tool: "t", name: "n", level: "note" as const, path: "a.ts", line: 1, endLine: 1 };
    const told = (length: number) =>
      Array.from({ length: MOST_FINDINGS }, () => ({ ...finding, message: "x".repeat(length) }));
    const few = { format: "sarif" as const, findings: told(100), more: 7, errors: 0, tests: null };
    expect(asKept(few)).toEqual(few);
    const kept = asKept({ ...few, findings: told(2_000) });
    expect(JSON.stringify(kept).length).toBeLessThan(1_001_000);
    expect(kept.findings.length).toBeGreaterThan(400);
    expect(kept.findings.length + kept.more).toBe(MOST_FINDINGS + 7);
  });

  it("do not depend on what XML forbids and test runners write", () => {
    const report = good(
      readJunit(
        `<testsuite><testcase name="a"><failure>\u001b[31mred&#x1b;[0m &#27; &#10;b</failure></testcase></testsuite>`,
      ),
    );
    expect(report.findings[0].message).toBe("\ufffd[31mred\ufffd[0m \ufffd \nb");
  });
});

describe("paths and commands", () => {
  it("stay within the repository", () => {
    expect(
      ["src/a.ts", "./a", "/a", "C:\\w\\a.ts", "../x", "a/../../x", "file:///%2e%2e/x", ""].map(pathWithin),
    ).toEqual(["src/a.ts", "a", "a", "w/a.ts", null, null, null, null]);
    const file = (checks: object[]) => readCommands(JSON.stringify({ checks }));
    expect(file([{ name: "a", run: "true" }])).toMatchObject({ ok: true, value: [{ name: "a", limit: 120 }] });
    const reason = (checks: object[]) => {
      const read = file(checks);
      return read.ok ? "" : read.refusal.reason;
    };
    expect(reason([{ name: "a", run: "true", report: "../x" }])).toMatch(/within the repository/);
    expect(
      reason([
        { name: "a", run: "x" },
        { name: "a", run: "y" },
      ]),
    ).toMatch(/two checks have the name a/);
    expect(reason([{ name: "a", command: "x" }])).toMatch(/\.lens\/checks\.json: /);
  });
});
