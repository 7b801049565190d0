import { type Finding, LONGEST_MESSAGE, MOST_FINDINGS, pathWithin, type Report } from "./report";

/** `FILE:LINE: message`, `FILE:LINE:COLUMN: message`, with the level before the message where it is said: as compilers and many tools print. */
const LINE =
  /^((?:[A-Za-z]:)?[^:\n]{1,500}):(\d{1,8})(?::(\d{1,8}))?:[ \t]*(?:(fatal error|error|warning|note|info)\b:?[ \t]*)?(.*)$/;

const LEVELS: Record<string, Finding["level"]> = {
  ...{ "fatal error": "error", error: "error", warning: "warning", note: "note", info: "note" },
};

/** A text of which every finding is a line; other lines are let be. What says no level is a warning. */
export function readPlain(text: string): Report {
  const findings: Finding[] = [];
  let [all, errors] = [0, 0];
  for (const line of text.split(/\r?\n/)) {
    const [, file, at, , said, message] = LINE.exec(line) ?? [];
    if (file === undefined || message.trim() === "") continue;
    const level = LEVELS[said ?? "warning"];
    all++;
    if (level === "error") errors++;
    if (findings.length >= MOST_FINDINGS) continue;
    findings.push({
      tool: "",
      name: "",
      level,
      message: message.trim().slice(0, LONGEST_MESSAGE),
      path: pathWithin(file),
      line: Number(at),
      endLine: null,
    });
  }
  return { format: "plain", findings, more: all - findings.length, errors, tests: null };
}

/** Whether a text that is no XML and no JSON has findings in it; null where it has none, so that it is not taken for a report. */
export function plainReport(text: string): Report | null {
  const report = readPlain(text);
  return report.findings.length > 0 ? report : null;
}
