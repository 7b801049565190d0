import { spawn } from "node:child_process";
import type { CheckCommand } from "@/core/checks/commands";

const MOST_OUTPUT = 20_000;

/** Runs a command in a group of processes of its own, and ends all of them when its time is over. */
export function runCommand(
  { run: words, limit }: CheckCommand,
  tree: string,
  home: string,
  signal: AbortSignal,
): Promise<{ code: number; output: string; late: boolean }> {
  return new Promise((resolve) => {
    // Processor seconds, and the size of files in blocks of 512 bytes.
    const limited = `ulimit -t ${Math.ceil(limit)} -f 2000000 2>/dev/null; ulimit -c 0; ${words}`;
    const env = {
      PATH: process.env.PATH ?? "",
      HOME: home,
      TMPDIR: home,
      CI: "1",
      LANG: "C.UTF-8",
    } as unknown as NodeJS.ProcessEnv;
    const child = spawn("sh", ["-c", limited], { cwd: tree, env, detached: true, stdio: ["ignore", "pipe", "pipe"] });
    let output = "";
    let late = false;
    const hear = (chunk: string) => {
      output = (output + chunk).slice(-MOST_OUTPUT);
    };
    child.stdout.setEncoding("utf8").on("data", hear);
    child.stderr.setEncoding("utf8").on("data", hear);
    const end = () => {
      try {
        if (child.pid) process.kill(-child.pid, "SIGKILL");
      } catch {
        // It has ended already.
      }
    };
    const timer = setTimeout(() => {
      late = true;
      end();
    }, limit * 1_000);
    signal.addEventListener("abort", end, { once: true });
    child.on("error", (error) => hear(`${error.message}\n`));
    child.on("close", (code) => {
      clearTimeout(timer);
      signal.removeEventListener("abort", end);
      end();
      resolve({ code: code ?? 137, output, late });
    });
  });
}
