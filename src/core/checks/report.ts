import { counted } from "../plain/words";

/** A report larger than this is not taken, in bytes. */
export const LARGEST_REPORT = 24 * 1024 * 1024;

/** Something that a check found, or a test that failed. Lines are 1-based; null where none is told. */
export interface Finding {
  /** What says so: a tool or a test suite. */
  tool: string;
  /** The rule or the test, by its name. */
  name: string;
  level: "error" | "warning" | "note";
  message: string;
  path: string | null;
  line: number | null;
  endLine: number | null;
  /** As long as the file is not known: the class or module that a test is in, and the places that its failure speaks of. */
  clues?: { unit: string; places: { path: string; line: number }[] };
}

/** Which lines of a file tests could run, and which of them they did. Lines 1-based. */
export interface FileCoverage {
  path: string;
  run: Set<number>;
  missed: Set<number>;
}

/** What a check told in one of the open formats. */
export interface Report {
  format: "junit" | "sarif" | "plain" | "lcov" | "cobertura";
  findings: Finding[];
  /** How many there were beyond those that are kept. */
  more: number;
  /** How many errors are among all of them. */
  errors: number;
  /** Tests that ran; null for what runs none. */
  tests: { passed: number; failed: number; skipped: number } | null;
  /** Which lines tests ran, as long as it is not known what changed. */
  coverage?: FileCoverage[];
  /** How many of the changed lines that could be run were. */
  changed?: { run: number; missed: number };
}

/** So many findings are kept, and so many characters of a message and of a name; a path that is longer names no file. */
export const MOST_FINDINGS = 1_000;
export const LONGEST_MESSAGE = 2_000;
export const LONGEST_NAME = 300;
const LONGEST_PATH = 4_096;

/** What is kept of a report has so many characters as JSON: every page of the change set asks for it. */
const LARGEST_KEPT = 1_000_000;

/** A report as it is kept: with as many of its findings as there is room for, and the others counted. */
export function asKept(report: Report): Report {
  let left = LARGEST_KEPT;
  const beyond = report.findings.findIndex((finding) => {
    left -= JSON.stringify(finding).length;
    return left < 0;
  });
  if (beyond < 0) return report;
  return {
    ...report,
    findings: report.findings.slice(0, beyond),
    more: report.more + report.findings.length - beyond,
  };
}

/** Whether a report by itself means that the check failed. */
export function hasFailed({ errors, tests }: Report): boolean {
  return (tests?.failed ?? 0) > 0 || errors > 0;
}

/** What a report on coverage says of a change, in a sentence without its end. */
export function coverageWords({ run, missed }: { run: number; missed: number }): string {
  const all = run + missed;
  if (all === 0) return "no changed line is one that tests could run";
  if (missed === 0) return all === 1 ? "the changed line is run by tests" : `all ${all} changed lines are run by tests`;
  return `${missed} of ${counted(all, "changed line")} ${missed === 1 ? "is" : "are"} run by no test`;
}

/** A report in one sentence without its end. */
export function summaryOf({ findings, more, tests, changed }: Report): string {
  if (changed) return coverageWords(changed);
  if (tests) {
    const skipped = tests.skipped > 0 ? `, ${tests.skipped} skipped` : "";
    return `${counted(tests.passed, "test")} passed, ${tests.failed} failed${skipped}`;
  }
  const all = findings.length + more;
  return all === 0 ? "nothing found" : counted(all, "finding");
}

/**
 * The path of a finding within the repository: without a scheme, a drive or what comes before a folder that is known. Null where it leads
 * out of it, or is longer than paths are.
 */
export function pathWithin(given: string): string | null {
  if (given.length > LONGEST_PATH) return null;
  let path = given;
  try {
    path = decodeURIComponent(given);
  } catch {
    // A percent sign that encodes nothing stands for itself.
  }
  path = path
    .replace(/^file:\/\/(?:localhost)?/i, "")
    .replaceAll("\\", "/")
    .replace(/^[A-Za-z]:(?=\/)/, "")
    .replace(/^(?:\.?\/)+/, "");
  return path === "" || path.split("/").includes("..") ? null : path;
}
