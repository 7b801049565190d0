import * as v from "valibot";
import { done, type Outcome, refuse } from "../plain/outcome";
import { wrongIn } from "../plain/shape";

/** Where a repository says which checks are run on its revisions. */
export const COMMANDS_FILE = ".lens/checks.json";

const schema = v.strictObject({
  checks: v.pipe(
    v.array(
      v.strictObject({
        name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(100)),
        /** A shell command, run in the folder of the repository. */
        run: v.pipe(v.string(), v.minLength(1), v.maxLength(2_000)),
        /** Where it leaves a report in JUnit XML or SARIF, as a path within the repository. */
        report: v.optional(
          v.pipe(
            v.string(),
            v.check(
              (path) => !path.startsWith("/") && !path.split("/").includes(".."),
              "A report lies within the repository.",
            ),
          ),
        ),
        /** Seconds after which it is ended. */
        limit: v.optional(v.pipe(v.number(), v.minValue(1), v.maxValue(3_600)), 120),
      }),
    ),
    v.maxLength(50, "At most 50 checks are run."),
  ),
});

export type CheckCommand = v.InferOutput<typeof schema>["checks"][number];

/** Reads the repository's own file of checks. */
export function readCommands(text: string): Outcome<CheckCommand[]> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return refuse("invalid", `${COMMANDS_FILE} is not JSON.`);
  }
  const parsed = v.safeParse(schema, json);
  if (!parsed.success) return refuse("invalid", `${COMMANDS_FILE}: ${wrongIn(parsed.issues, "the whole")}`);
  const { checks } = parsed.output;
  const twice = checks.find(({ name }, i) => checks.findIndex((other) => other.name === name) !== i);
  return twice ? refuse("invalid", `${COMMANDS_FILE}: two checks have the name ${twice.name}.`) : done(checks);
}

/**
 * The names of those of `own` that are done in another way than in `before`, the commands of the target: an author who changes how a check is made can make it
 * pass. A check of a new name changes none, unless it is one that is `needed`: then others made it so far, or nobody.
 */
export function changedCommands(
  own: readonly CheckCommand[],
  before: readonly CheckCommand[],
  needed: readonly string[],
): Set<string> {
  const known = new Map(before.map((command) => [command.name, command]));
  return new Set(
    own.flatMap(({ name, run, report }) => {
      const was = known.get(name);
      const isOther = was ? was.run !== run || was.report !== report : needed.includes(name);
      return isOther ? [name] : [];
    }),
  );
}
