import * as v from "valibot";
import { done, type Outcome, refuse } from "../plain/outcome";
import { wrongIn } from "../plain/shape";
import { type Finding, LONGEST_MESSAGE, LONGEST_NAME, MOST_FINDINGS, pathWithin, type Report } from "./report";

const message = v.nullish(
  v.object({
    text: v.nullish(v.string()),
    markdown: v.nullish(v.string()),
    id: v.nullish(v.string()),
    arguments: v.nullish(v.array(v.string())),
  }),
);
const number = v.nullish(v.number());
const place = v.object({
  physicalLocation: v.nullish(
    v.object({
      artifactLocation: v.nullish(v.object({ uri: v.nullish(v.string()), index: number })),
      region: v.nullish(v.object({ startLine: number, endLine: number })),
    }),
  ),
});
const rule = v.object({
  id: v.nullish(v.string()),
  name: v.nullish(v.string()),
  shortDescription: message,
  messageStrings: v.nullish(v.record(v.string(), v.object({ text: v.nullish(v.string()) }))),
  defaultConfiguration: v.nullish(v.object({ level: v.nullish(v.string()) })),
});
const result = v.object({
  ruleId: v.nullish(v.string()),
  ruleIndex: number,
  rule: v.nullish(v.object({ id: v.nullish(v.string()), index: number, toolComponent: v.nullish(v.unknown()) })),
  kind: v.nullish(v.string()),
  level: v.nullish(v.string()),
  message,
  locations: v.nullish(v.array(place)),
  suppressions: v.nullish(v.array(v.unknown())),
});
const sarif = v.object({
  version: v.literal("2.1.0", "Only SARIF 2.1.0 is read here."),
  runs: v.array(
    v.object({
      tool: v.object({
        driver: v.object({ name: v.string("A run has to name its tool."), rules: v.nullish(v.array(rule)) }),
        extensions: v.nullish(v.array(v.object({ rules: v.nullish(v.array(rule)) }))),
      }),
      artifacts: v.nullish(v.array(v.object({ location: v.nullish(v.object({ uri: v.nullish(v.string()) })) }))),
      results: v.nullish(v.nullable(v.array(result))),
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
  if (!parsed.success) return refuse("invalid", `This is not a SARIF log: ${wrongIn(parsed.issues, "the whole")}`);
  const findings: Finding[] = [];
  let more = 0;
  let errors = 0;
  for (const { tool, artifacts, results } of parsed.output.runs) {
    const { name } = tool.driver;
    const rules = tool.driver.rules ?? [];
    // Rules of extensions are found by their ids alone: a number means one of the driver's own.
    const byId = new Map<string, v.InferOutput<typeof rule>>();
    for (const one of [...rules, ...(tool.extensions ?? []).flatMap((extension) => extension.rules ?? [])])
      if (one.id && !byId.has(one.id)) byId.set(one.id, one);
    for (const one of results ?? []) {
      if ((one.kind && one.kind !== "fail") || (one.suppressions?.length ?? 0) > 0) continue;
      const index = one.ruleIndex ?? one.rule?.index ?? -1;
      const own = one.rule?.toolComponent ? undefined : rules[index];
      const id = one.ruleId ?? one.rule?.id ?? own?.id ?? "";
      const known = own ?? ruleCalled(byId, id);
      const level = levelOf(one.level ?? known?.defaultConfiguration?.level);
      if (level === "error") errors++;
      if (findings.length >= MOST_FINDINGS) {
        more++;
        continue;
      }
      const where = one.locations?.[0]?.physicalLocation;
      const uri = where?.artifactLocation?.uri ?? artifacts?.[where?.artifactLocation?.index ?? -1]?.location?.uri;
      const line = whole(where?.region?.startLine);
      findings.push({
        tool: name.slice(0, LONGEST_NAME),
        name: (id || known?.name || "a finding").slice(0, LONGEST_NAME),
        level,
        message: wordsOf(one.message, known).slice(0, LONGEST_MESSAGE),
        path: uri ? pathWithin(uri) : null,
        line,
        endLine: whole(where?.region?.endLine) ?? line,
      });
    }
  }
  return done({ format: "sarif", findings, more, errors, tests: null });
}

/** The rule of an id, or the one that it is under: "R1/sub" is a rule under R1. */
function ruleCalled<Rule>(byId: ReadonlyMap<string, Rule>, id: string): Rule | undefined {
  let name = id;
  for (let depth = 0; depth <= DEEPEST_ID; depth++) {
    const known = byId.get(name);
    if (known) return known;
    const slash = name.lastIndexOf("/");
    if (slash < 0) return undefined;
    name = name.slice(0, slash);
  }
  return undefined;
}

/** The standard gives ids few parts; a longer one is looked up no further. */
const DEEPEST_ID = 12;

function whole(value: number | null | undefined): number | null {
  return typeof value === "number" && Number.isInteger(value) && value > 0 ? value : null;
}

/** Unless said otherwise a result is a warning: so the standard. */
function levelOf(level: string | null | undefined): Finding["level"] {
  return level === "error" ? "error" : level === "note" || level === "none" ? "note" : "warning";
}

/** The message itself, or that of the rule with its arguments put in. */
function wordsOf(said: v.InferOutput<typeof message>, known: v.InferOutput<typeof rule> | undefined): string {
  const pattern =
    said?.text ?? known?.messageStrings?.[said?.id ?? "default"]?.text ?? known?.shortDescription?.text ?? "";
  return pattern
    .slice(0, LONGEST_MESSAGE)
    .replaceAll(/\{(\d+)\}/g, (sign, at: string) => said?.arguments?.[Number(at)]?.slice(0, LONGEST_MESSAGE) ?? sign);
}
