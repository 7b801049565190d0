import { SaxesParser } from "saxes";
import { done, type Outcome, refuse } from "../plain/outcome";
import { type Finding, LONGEST_MESSAGE, LONGEST_NAME, MOST_FINDINGS, pathWithin, type Report } from "./report";

/** Characters that XML does not allow, and that test runners write all the same: colours of the terminal, above all. */
const FORBIDDEN = /[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/g;
const FORBIDDEN_REFERENCE = /&#(?:x0*(?:[0-8bcef]|1[0-9a-f])|0*(?:[0-8]|1[124-9]|2[0-9]|3[01]));/gi;

/** Of the text of a failure so many characters are looked through for places. */
const LONGEST_TEXT = 20_000;
/** So many places that a failure speaks of are looked at. */
const MOST_PLACES = 12;

/** Deeper than this no test suite is nested. */
const DEEPEST = 100;

/**
 * Reads a JUnit XML report: `testsuites`, `testsuite`, `testcase` with `failure`, `error` or `skipped`, as test runners of many languages
 * write it. A document type is refused, since entities that are declared in it can be made to grow without end.
 */
export function readJunit(xml: string): Outcome<Report> {
  const findings: Finding[] = [];
  const tests = { passed: 0, failed: 0, skipped: 0 };
  let more = 0;
  let problem: string | null = null;
  let seen = false;
  const open: { tag: string; suite: string; file: string | null }[] = [];
  let test: {
    name: string;
    unit: string;
    path: string | null;
    line: number | null;
    state: "passed" | "failed" | "skipped";
  } | null = null;
  let failure: { message: string; level: Finding["level"]; text: string } | null = null;
  const parser = new SaxesParser({ position: false });
  parser.on("doctype", () => {
    problem ??= "The report declares a document type: such XML is not read here. Write it without <!DOCTYPE …>.";
  });
  parser.on("error", (error) => {
    problem ??= `This is not well-formed XML: ${error.message.replace(/^undefined:/, "")}.`;
  });
  parser.on("opentag", ({ name, attributes }) => {
    if (problem) return;
    const said = (key: string) => String(attributes[key] ?? "");
    const above = open.at(-1);
    if (open.length >= DEEPEST) problem = `The report is nested more than ${DEEPEST} deep.`;
    if (open.length === 0 && name !== "testsuites" && name !== "testsuite")
      problem = `A JUnit report begins with <testsuites> or <testsuite>; this begins with <${name.slice(0, 50)}>.`;
    seen = true;
    const suite = name === "testsuite" && said("name") ? said("name") : (above?.suite ?? "");
    const file = said("file") || said("filepath") || (above?.file ?? "") || null;
    open.push({ tag: name, suite, file });
    if (name === "testcase") {
      const number = Number(said("line"));
      test = {
        name: [said("classname"), said("name")].filter((part) => part !== "").join(": ") || "a test without a name",
        unit: said("classname"),
        path: file ? pathWithin(file) : null,
        line: Number.isInteger(number) && number > 0 ? number : null,
        state: "passed",
      };
    } else if (test && (name === "failure" || name === "error")) {
      test.state = "failed";
      failure = { message: said("message"), level: "error", text: "" };
    } else if (test && name === "skipped") test.state = "skipped";
  });
  const words = (text: string) => {
    if (failure && failure.text.length < LONGEST_TEXT) failure.text += text;
  };
  parser.on("text", words);
  parser.on("cdata", words);
  parser.on("closetag", ({ name }) => {
    const here = open.pop();
    if (problem) return;
    if (failure && test && (name === "failure" || name === "error")) {
      const { message, level, text } = failure;
      failure = null;
      if (findings.length >= MOST_FINDINGS) {
        more++;
        return;
      }
      const places = placesIn(`${message}\n${text}`);
      const place = test.path
        ? { path: test.path, line: test.line }
        : { path: places[0]?.path ?? null, line: places[0]?.line ?? null };
      const said = [message, text.trim()].filter((part, i, all) => part !== "" && all.indexOf(part) === i).join("\n");
      findings.push({
        tool: (here?.suite || "tests").slice(0, LONGEST_NAME),
        name: test.name.slice(0, LONGEST_NAME),
        level,
        message: said.slice(0, LONGEST_MESSAGE),
        path: place.path,
        line: place.line,
        endLine: place.line,
        ...(test.path ? {} : { clues: { unit: test.unit.slice(0, LONGEST_NAME), places } }),
      });
    } else if (name === "testcase" && test) {
      tests[test.state]++;
      test = null;
    }
  });
  const text = xml.replace(FORBIDDEN, "\ufffd").replace(FORBIDDEN_REFERENCE, "\ufffd");
  // In pieces, so that a problem ends it early.
  for (let at = 0; at < text.length && !problem; at += 65_536) parser.write(text.slice(at, at + 65_536));
  if (!problem) parser.close();
  if (problem) return refuse("invalid", problem);
  if (!seen) return refuse("invalid", "The report is empty.");
  return done({ format: "junit", findings, more, errors: tests.failed, tests });
}

/** Many runners tell the place only in the text of the failure: "src/quay.test.ts:12:5". What stands there first may be of another's code. */
function placesIn(text: string): { path: string; line: number }[] {
  const found = text
    .slice(0, LONGEST_TEXT)
    .matchAll(/(?:^|[\s("'[])(\/?(?:[\w.@+-]+\/)*[\w.@+-]+\.[A-Za-z]\w{0,9}):(\d{1,7})(?::\d+)?/gm);
  const places: { path: string; line: number }[] = [];
  for (const [, given, line] of found) {
    const path = given.includes("node_modules/") ? null : pathWithin(given);
    if (path) places.push({ path, line: Number(line) });
    if (places.length >= MOST_PLACES) break;
  }
  return places;
}
