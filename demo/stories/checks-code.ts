/** What the planner's repository says of its own checks, and the two small programs that it runs. */
export const CHECKS = {
  ".lens/checks.json": `${JSON.stringify(
    {
      checks: [
        { name: "words", run: "node checks/words.mjs", report: "words.sarif", limit: 30 },
        { name: "tests named", run: "node checks/tests.mjs", report: "tests.xml", limit: 30 },
      ],
    },
    null,
    2,
  )}\n`,
  "checks/words.mjs": `// Looks for lines that are too long, and for words that the harbour office does not use.
import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";

const LONGEST = 120;
const files = (folder) =>
  readdirSync(folder).flatMap((name) => {
    const path = folder === "." ? name : \`\${folder}/\${name}\`;
    if (name.startsWith(".") || name === "checks") return [];
    return statSync(path).isDirectory() ? files(path) : /[.]ts$/.test(name) ? [path] : [];
  });
const results = [];
const found = (ruleId, level, text, uri, startLine) =>
  results.push({
    ruleId,
    level,
    message: { text },
    locations: [{ physicalLocation: { artifactLocation: { uri }, region: { startLine } } }],
  });
for (const path of files(".")) {
  for (const [i, line] of readFileSync(path, "utf8").split("\\n").entries()) {
    if (line.length > LONGEST) found("long-line", "warning", \`\${line.length} characters; \${LONGEST} are the most.\`, path, i + 1);
    if (/MAX_SAFE_INTEGER/.test(line)) found("no-magic", "error", "Say what this number means: give it a name.", path, i + 1);
    if (/passed over [$]/.test(line)) found("spoken", "note", "Text for the desk belongs to words.ts.", path, i + 1);
  }
}
const rules = [{ id: "long-line" }, { id: "no-magic" }, { id: "spoken" }];
const log = { version: "2.1.0", runs: [{ tool: { driver: { name: "harbour words", rules } }, results }] };
writeFileSync("words.sarif", JSON.stringify(log));
`,
  "checks/tests.mjs": `// Every module of the plan has a test that is named after it.
import { readdirSync, writeFileSync } from "node:fs";

const KNOWN = ["instant.ts", "ship.ts", "window.ts", "queue.ts", "pilot.ts"];
const names = readdirSync("plan");
const modules = names.filter((name) => name.endsWith(".ts") && !name.endsWith(".test.ts"));
const cases = modules.map((name) => {
  const tested = names.includes(name.replace(".ts", ".test.ts"));
  const state = tested ? "" : KNOWN.includes(name) ? "<skipped/>" : '<failure message="There is no test for this module."/>';
  return \`<testcase classname="plan" name="\${name}" file="plan/\${name}" line="1">\${state}</testcase>\`;
});
writeFileSync("tests.xml", \`<testsuite name="plan">\${cases.join("")}</testsuite>\`);
`,
};
