import type { Command } from "commander";
import { Stop } from "./stop";

const FORMATS = ["unified", "json", "summary"];

export function addDiffCommand(program: Command): void {
  program
    .command("diff <repository> <from> <to>")
    .description("compare two commits of any local git repository, without a server")
    .option("--format <format>", `${FORMATS.join(", ")}`, "unified")
    .option("--path <path>", "only this file, or what lies below this folder")
    .addHelpText(
      "after",
      `
unified   an ordinary git patch: git apply --index makes <to> of <from>
json      the reading: classes of lines, moves, replacements, renames, counts (docs/reading.schema.json)
summary   how many lines changed, how many are left to read, and why the others are not`,
    )
    .action(
      async (repository: string, from: string, to: string, { format, path }: { format: string; path?: string }) => {
        if (!FORMATS.includes(format)) throw new Stop(`There is no format “${format}”: it is ${FORMATS.join(", ")}.`);
        const { runDiff } = await import("./run-diff");
        await runDiff(repository, from, to, { format, path });
      },
    );
}
