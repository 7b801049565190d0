import { readFileSync } from "node:fs";
import { join } from "node:path";

/** The version of the application that runs, as its manifest says. */
export function versionOf(root: string): string {
  const { version }: { version: string } = JSON.parse(readFileSync(join(root, "package.json"), "utf8"));
  return version;
}
