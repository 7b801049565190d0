import { SaxesParser } from "saxes";
import { done, type Outcome, refuse } from "../plain/outcome";
import { inFigures } from "../plain/words";
import { type FileCoverage, type Finding, MOST_FINDINGS, pathWithin, type Report } from "./report";

/** So many lines are read of a report, in all its files. */
const MOST_LINES = 4_000_000;
const TOO_MANY = `The report tells of more than ${inFigures(MOST_LINES)} lines: report on fewer files.`;

/** A line that several tests tell of was run when one of them ran it. */
class Gathered {
  private readonly files = new Map<string, FileCoverage>();
  lines = 0;

  add(path: string | null, line: number, hits: number): void {
    if (path === null || !Number.isInteger(line) || line < 1 || !(hits >= 0) || this.lines >= MOST_LINES) return;
    this.lines++;
    const file = this.files.get(path) ?? { path, run: new Set(), missed: new Set() };
    this.files.set(path, file);
    if (hits > 0) {
      file.run.add(line);
      file.missed.delete(line);
    } else if (!file.run.has(line)) file.missed.add(line);
  }

  outcome(format: Report["format"]): Outcome<Report> {
    if (this.lines >= MOST_LINES) return refuse("invalid", TOO_MANY);
    if (this.lines === 0) return refuse("invalid", "The report tells of no line.");
    return done({ format, findings: [], more: 0, errors: 0, tests: null, coverage: [...this.files.values()] });
  }
}

/** Whether a text is a tracefile of LCOV, by the records that it begins with. */
export function isLcov(text: string): boolean {
  return /^\s*(?:#[^\n]*\n\s*)*(?:TN|SF):/.test(text);
}

/** Reads a tracefile of LCOV: `SF:` names a file, `DA:LINE,HITS` tells of a line. What else it tells is let be. */
export function readLcov(text: string): Outcome<Report> {
  const gathered = new Gathered();
  let path: string | null = null;
  for (const line of text.split("\n")) {
    if (line.startsWith("SF:")) path = pathWithin(line.slice(3).trim());
    else if (line.startsWith("DA:")) {
      const [at, hits] = line.slice(3).split(",");
      gathered.add(path, Number(at), Number(hits));
    } else if (line.startsWith("end_of_record")) path = null;
  }
  return gathered.outcome("lcov");
}

/** Reads Cobertura XML: `class` names a file, `line` within it tells of a line; the doctype that tools write names a file of entities, none of which is read. */
export function readCobertura(xml: string): Outcome<Report> {
  const gathered = new Gathered();
  const open: (string | null)[] = [];
  let problem: string | null = null;
  const parser = new SaxesParser({ position: false });
  parser.on("doctype", (said) => {
    if (said.includes("[")) problem ??= "The report declares entities: such XML is not read here.";
  });
  parser.on("error", (error) => {
    problem ??= `This is not well-formed XML: ${error.message.replace(/^undefined:/, "")}.`;
  });
  parser.on("opentag", ({ name, attributes }) => {
    const said = (key: string) => String(attributes[key] ?? "");
    if (name === "class") open.push(pathWithin(said("filename")));
    if (name === "line" && open.length > 0) gathered.add(open.at(-1)!, Number(said("number")), Number(said("hits")));
  });
  parser.on("closetag", ({ name }) => {
    if (name === "class") open.pop();
  });
  for (let at = 0; at < xml.length && problem === null; at += 65_536) parser.write(xml.slice(at, at + 65_536));
  if (problem === null) parser.close();
  return problem === null ? gathered.outcome("cobertura") : refuse("invalid", problem);
}

/** Lines that a change brought to a file and that are to be read. 0-based, end exclusive. */
export interface ChangedLines {
  path: string;
  lines: readonly { start: number; end: number }[];
}

/**
 * What a report on coverage says of a change: each stretch of changed lines that no test runs, as a finding; and how many there are of those that could be run.
 *
 * @example
 * coverageOf(coverage, [{ path: "a.ts", lines: [{ start: 0, end: 2 }] }]).changed // { run: 1, missed: 1 }
 */
export function coverageOf(coverage: readonly FileCoverage[], changed: readonly ChangedLines[]): Report {
  const known = new Map(coverage.map((file) => [file.path, file]));
  const counts = { run: 0, missed: 0 };
  const findings: Finding[] = [];
  let all = 0;
  for (const { path, lines } of changed) {
    const file = known.get(path);
    if (!file) continue;
    for (const { start, end } of lines) {
      let first: number | null = null;
      let last = 0;
      const close = () => {
        if (first === null) return;
        all++;
        if (findings.length < MOST_FINDINGS) findings.push(missed(path, first, last));
        first = null;
      };
      for (let line = start + 1; line <= end; line++) {
        if (file.run.has(line)) {
          counts.run++;
          close();
        } else if (file.missed.has(line)) {
          counts.missed++;
          first ??= line;
          last = line;
        }
      }
      close();
    }
  }
  return { format: "lcov", findings, more: all - findings.length, errors: 0, tests: null, changed: counts };
}

function missed(path: string, line: number, last: number): Finding {
  const message = last === line ? "Changed, and run by no test." : "Changed, and run by no test: these lines.";
  return { tool: "coverage", name: "", level: "note", message, path, line, endLine: last };
}

/** Whether fewer of the changed lines are run than are asked for, in percent. Where none could be run, none is missing. */
export function isBelow({ run, missed }: { run: number; missed: number }, least: number): boolean {
  return run + missed > 0 && (100 * run) / (run + missed) < least;
}
