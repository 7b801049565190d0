import { spawn } from "node:child_process";
import { createInterface } from "node:readline";

/**
 * Runs git in a person's own clone, with their own configuration and on their own terminal; gives what it wrote on standard output. With `heard` what it
 * complains of is told line by line, and not on the terminal.
 */
export function gitHere(
  folder: string,
  args: readonly string[],
  { input = "", heard }: { input?: string; heard?: (line: string) => void } = {},
): Promise<{ code: number; out: string }> {
  return new Promise((resolve, reject) => {
    const child = spawn("git", ["-C", folder, ...args], { stdio: ["pipe", "pipe", heard ? "pipe" : "inherit"] });
    let out = "";
    child.stdout!.setEncoding("utf8").on("data", (words: string) => {
      out += words;
    });
    const lines = child.stderr && createInterface(child.stderr);
    lines?.on("line", (line) => heard?.(line));
    child.on("error", reject);
    child.on("close", (code) => resolve({ code: code ?? -1, out }));
    child.stdin!.on("error", () => undefined);
    child.stdin!.end(input);
  });
}
