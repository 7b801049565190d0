import { spawn } from "node:child_process";

/** Runs git in a person's own clone, with their own configuration and on their own terminal; gives what it wrote on standard output. */
export function gitHere(folder: string, args: readonly string[], input = ""): Promise<{ code: number; out: string }> {
  return new Promise((resolve, reject) => {
    const child = spawn("git", ["-C", folder, ...args], { stdio: ["pipe", "pipe", "inherit"] });
    let out = "";
    child.stdout.setEncoding("utf8").on("data", (words: string) => {
      out += words;
    });
    child.on("error", reject);
    child.on("close", (code) => resolve({ code: code ?? -1, out }));
    child.stdin.on("error", () => undefined);
    child.stdin.end(input);
  });
}
