import { type ChildProcess, spawn } from "node:child_process";
import type { Answered, Asked } from "./through";

/**
 * A process of its own that starts git for a larger one. To start a program the system makes a copy of the process that asks for it, page
 * by page; for a server of 250 MB that takes some 30 ms in which it answers nobody, and for this one a few.
 */
const running = new Map<number, ChildProcess>();

process.on("message", (asked: Asked) => {
  if ("stop" in asked) running.get(asked.id)?.kill();
  else
    try {
      start(asked);
    } catch (error) {
      // What one asks for that cannot be started at all, such as a name with a NUL in it, is no matter of the others.
      tell({ id: asked.id, problem: String(error) });
    }
});
// It ends with the one that it works for, which may need it while it ends itself: also where a terminal tells all at once.
process.on("disconnect", () => process.exit());
for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => undefined);

function tell(answered: Answered): void {
  if (process.connected) process.send!(answered);
}

function start({ id, args, env, input }: Exclude<Asked, { stop: true }>): void {
  const child = spawn("git", args, { env, stdio: ["pipe", "pipe", "pipe"] });
  running.set(id, child);
  child.stdout.on("data", (out: Buffer) => tell({ id, out }));
  child.stderr.setEncoding("utf8").on("data", (err: string) => tell({ id, err }));
  child.on("error", ({ message }) => tell({ id, problem: message }));
  child.on("close", (code) => {
    running.delete(id);
    tell({ id, code: code ?? -1 });
  });
  // git may end before it has read everything; that shows in its exit code.
  child.stdin.on("error", () => undefined);
  child.stdin.end(input);
}
