import { addTo, groupedBy } from "../plain/grouped";
import type { Finding, Report } from "./report";

/**
 * A report with the paths of its findings as they are in the repository. Tools name files in their own ways: from the root of the machine
 * they ran on, by their last part alone, or by the class or module that a test is in.
 */
export function withPlaces(report: Report, paths: readonly string[]): Report {
  const known = new Set(paths);
  const byName = groupedBy(paths, nameOf);
  /** Paths without what follows the last dot, by their last part; and which path each is of, null where several are. */
  const byStem = new Map<string, string[]>();
  const pathOf = new Map<string, string | null>();
  for (const path of paths) {
    const bare = path.replace(/\.[A-Za-z0-9]+$/, "");
    if (!pathOf.has(bare)) addTo(byStem, nameOf(bare), bare);
    pathOf.set(bare, pathOf.has(bare) ? null : path);
  }
  const locate = (given: string): string | null => {
    for (let at = 0; at >= 0; at = given.indexOf("/", at) + 1 || -1) {
      const shorter = given.slice(at);
      if (known.has(shorter)) return shorter;
    }
    const alike = (byName.get(nameOf(given)) ?? []).filter((path) => path.endsWith(`/${given}`));
    return alike.length === 1 ? alike[0] : null;
  };
  // "tests.test_quay.TestQuay" stands in tests/test_quay.py, "org.harbour.QuayTest" in src/test/java/org/harbour/QuayTest.java.
  const ofUnit = (unit: string): string | null => {
    const parts = unit.split(/[.:/\\]+/).filter((part) => part !== "");
    for (let end = parts.length; end > 0; end--) {
      const stem = parts.slice(0, end).join("/");
      const alike = (byStem.get(parts[end - 1]) ?? []).filter(
        (bare) => bare === stem || (end > 1 && bare.endsWith(`/${stem}`)),
      );
      if (alike.length === 1) return pathOf.get(alike[0]) ?? null;
    }
    return null;
  };
  const findings = report.findings.map((finding): Finding => {
    const { clues, ...rest } = finding;
    const here = finding.path && locate(finding.path);
    if (here) return { ...rest, path: here };
    for (const { path, line } of clues?.places ?? []) {
      const known = locate(path);
      if (known) return { ...rest, path: known, line, endLine: line };
    }
    const path = clues?.unit ? ofUnit(clues.unit) : null;
    // The line was that of another file, which is not in the repository.
    return path ? { ...rest, path, line: null, endLine: null } : rest;
  });
  const coverage = report.coverage?.map((file) => ({ ...file, path: locate(file.path) ?? file.path }));
  return { ...report, findings, ...(coverage ? { coverage } : {}) };
}

function nameOf(path: string): string {
  return path.slice(path.lastIndexOf("/") + 1);
}
