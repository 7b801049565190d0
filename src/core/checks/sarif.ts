import * as v from "valibot";
import { done, type Outcome, refuse } from "../outcome";
import { type Finding, LONGEST_MESSAGE, MOST_FINDINGS, pathWithin, type Report } from "./report";

const message = v.optional(
  v.object({
    text: v.optional(v.string()),
    markdown: v.optional(v.string()),
    id: v.optional(v.string()),
    arguments: v.optional(v.array(v.string())),
  }),
);
const number = v.optional(v.number());
const place = v.object({
  physicalLocation: v.optional(
    v.object({
      artifactLocation: v.optional(v.object({ uri: v.optional(v.string()), index: number })),
      region: v.optional(v.object({ startLine: number, endLine: number })),
    }),
  ),
});
const rule = v.object({
  id: v.optional(v.string()),
  name: v.optional(v.string()),
  shortDescription: message,
  messageStrings: v.optional(v.record(v.string(), v.object({ text: v.optional(v.string()) }))),
  defaultConfiguration: v.optional(v.object({ level: v.optional(v.string()) })),
});
const result = v.object({
  ruleId: v.optional(v.string()),
  ruleIndex: number,
  rule: v.optional(v.object({ id: v.optional(v.string()), index: number })),
  kind: v.optional(v.string()),
  level: v.optional(v.string()),
  message,
  locations: v.optional(v.array(place)),
  suppressions: v.optional(v.array(v.unknown())),
});
const sarif = v.object({
  version: v.literal("2.1.0", "Only SARIF 2.1.0 is read here."),
  runs: v.array(
    v.object({
      tool: v.object({
        driver: v.object({ name: v.string("A run has to name its tool."), rules: v.optional(v.array(rule)) }),
      }),
      artifacts: v.optional(v.array(v.object({ location: v.optional(v.object({ uri: v.optional(v.string()) })) }))),
      results: v.optional(v.nullable(v.array(result))),
    }),
    "A SARIF log has a list of runs.",
  ),
});

/**
 * Reads a SARIF 2.1.0 log (OASIS, 2020): results of each run with their rule, level, message and first place. Results of a kind other than
 * `fail`, and those that were suppressed, are no findings.
 */
export function readSarif(text: string): Outcome<Report> {
  let json: unknown;
  try {
    json = JSON.parse(text.charCodeAt(0) === 0xfeff ? text.slice(1) : text);
  } catch {
    return refuse("invalid", "This is not JSON.");
  }
  const parsed = v.safeParse(sarif, json);
  if (!parsed.success) {
    const [issue] = parsed.issues;
    return refuse("invalid", `This is not a SARIF log: ${v.getDotPath(issue) ?? "the whole"}: ${issue.message}`);
  }
  const findings: Finding[] = [];
  let more = 0;
  for (const { tool, artifacts = [], results } of parsed.output.runs) {
    const { name, rules = [] } = tool.driver;
    for (const one of results ?? []) {
      if ((one.kind !== undefined && one.kind !== "fail") || (one.suppressions?.length ?? 0) > 0) continue;
      if (findings.length >= MOST_FINDINGS) {
        more++;
        continue;
      }
      const index = one.ruleIndex ?? one.rule?.index ?? -1;
      const id = one.ruleId ?? one.rule?.id ?? rules[index]?.id ?? "";
      const known = rules[index] ?? rules.find((candidate) => candidate.id === id);
      const where = one.locations?.[0]?.physicalLocation;
      const uri = where?.artifactLocation?.uri ?? artifacts[where?.artifactLocation?.index ?? -1]?.location?.uri;
      const line = whole(where?.region?.startLine);
      findings.push({
        ...{
          tool: name,
          name: id || known?.name || "a finding",
          level: levelOf(one.level ?? known?.defaultConfiguration?.level),
        },
        message: wordsOf(one.message, known).slice(0, LONGEST_MESSAGE),
        ...{ path: uri === undefined ? null : pathWithin(uri), line, endLine: whole(where?.region?.endLine) ?? line },
      });
    }
  }
  return done({ format: "sarif", findings, more, tests: null });
}

function whole(value: number | undefined): number | null {
  return value !== undefined && Number.isInteger(value) && value > 0 ? value : null;
}

/** Unless said otherwise a result is a warning: so the standard. */
function levelOf(level: string | undefined): Finding["level"] {
  return level === "error" ? "error" : level === "note" || level === "none" ? "note" : "warning";
}

/** The message itself, or that of the rule with its arguments put in. */
function wordsOf(said: v.InferOutput<typeof message>, known: v.InferOutput<typeof rule> | undefined): string {
  const pattern =
    said?.text ?? known?.messageStrings?.[said?.id ?? "default"]?.text ?? known?.shortDescription?.text ?? "";
  return pattern.replaceAll(/\{(\d+)\}/g, (sign, at: string) => said?.arguments?.[Number(at)] ?? sign);
}
