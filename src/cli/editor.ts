import { spawnSync } from "node:child_process";
import { Stop } from "./stop";

/** Opens the editor that the person has chosen, and waits until it is closed. */
export function edit(file: string): void {
  const editor = process.env.VISUAL || process.env.EDITOR || "vi";
  // Through a shell, since it may be a command with options; the file is an argument, and never a part of the command.
  const { status, error } = spawnSync("sh", ["-c", `${editor} "$1"`, "sh", file], { stdio: "inherit" });
  if (error || status !== 0)
    throw new Stop(`The editor (${editor}) ended with ${status ?? error?.message}; ${file} is kept.`);
}
