/** `npm run test:again [TIMES]`: the browser tests, ten times in a row or as often as is said, none of them tried twice. Ends with how often each failed. */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { build, root, tool } from "./prepare.mjs";

const times = Number(process.argv[2] ?? 10);
await build();
const folder = mkdtempSync(join(tmpdir(), "lens-again-"));
const failed = new Map();
for (let round = 1; round <= times; round++) {
  const report = join(folder, "report.json");
  const args = ["run", "--project", "browser", "--retry", "0", "--reporter", "json", "--outputFile", report];
  spawnSync(tool("vitest"), args, { cwd: root, stdio: "ignore", env: { ...process.env, LENS_ROOT: root } });
  const { testResults } = JSON.parse(readFileSync(report, "utf8"));
  rmSync(report);
  // A file that could not begin has no tests, and is one that failed.
  const all = testResults.flatMap(({ name, status, assertionResults }) =>
    assertionResults.length > 0 ? assertionResults : [{ fullName: name, status }],
  );
  const wrong = all.filter(({ status }) => status === "failed");
  process.stdout.write(`Round ${round} of ${times}: ${all.length - wrong.length} passed, ${wrong.length} failed\n`);
  for (const { fullName, failureMessages = [] } of wrong) {
    failed.set(fullName, (failed.get(fullName) ?? 0) + 1);
    process.stdout.write(`  ${fullName}: ${(failureMessages[0] ?? "it could not begin").slice(0, 2_000)}\n`);
  }
}
rmSync(folder, { recursive: true });
for (const [name, often] of failed) process.stdout.write(`Failed ${often} times: ${name}\n`);
process.exitCode = failed.size > 0 ? 1 : 0;
