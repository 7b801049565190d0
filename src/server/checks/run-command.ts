import { spawn } from "node:child_process";
import { mkdirSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { CheckCommand } from "@/core/checks/commands";
import { addTo } from "@/core/plain/grouped";
import { jailEnvironment, jailed } from "./jail";

const MOST_OUTPUT = 20_000;
/** So much may all processes of a command take together, in bytes; one alone no more either. */
const MOST_MEMORY = 2 * 1024 * 1024 * 1024;
const WEIGHED_EVERY = 250;

export interface Ran {
  code: number;
  output: string;
  /** Why it was ended, where it was. */
  ended: "late" | "memory" | null;
}

/**
 * Runs a command in the folder `tree` of `place`, and ends it with everything that it began when its time or its memory is over. In a jail it
 * sees nothing of this machine but programs, has no network, and cannot leave a process behind.
 */
export function runCommand(
  { run: words, limit }: CheckCommand,
  place: string,
  inJail: boolean,
  signal: AbortSignal,
  /** Told what it has written so far, whenever that grows. */
  wrote: (output: string) => void = () => undefined,
): Promise<Ran> {
  return new Promise((resolve) => {
    // Processor seconds, the size of files in blocks of 512 bytes, and data in blocks of 1,024 bytes.
    const limited = `ulimit -t ${Math.ceil(limit)} -f 2000000 2>/dev/null; ulimit -d ${MOST_MEMORY / 1024} 2>/dev/null; ulimit -c 0; ${words}`;
    const env = {
      PATH: process.env.PATH ?? "",
      HOME: place,
      TMPDIR: place,
      CI: "1",
      LANG: "C.UTF-8",
      ...(inJail ? jailEnvironment() : {}),
    } as unknown as NodeJS.ProcessEnv;
    const root = join(place, "root");
    if (inJail) mkdirSync(root, { recursive: true });
    const { command, args } = inJail ? jailed(root, place, limited) : { command: "sh", args: ["-c", limited] };
    const cwd = join(place, "tree");
    const child = spawn(command, args, { cwd, env, detached: true, stdio: ["ignore", "pipe", "pipe"] });
    let output = "";
    let ended: Ran["ended"] = null;
    const hear = (chunk: string) => {
      output = (output + chunk).slice(-MOST_OUTPUT);
      wrote(output);
    };
    child.stdout.setEncoding("utf8").on("data", hear);
    child.stderr.setEncoding("utf8").on("data", hear);
    const end = () => {
      if (!child.pid) return;
      // What left the group is found by whose child it is, as long as its parent lives.
      for (const { pid } of descendantsOf(child.pid)) kill(pid);
      kill(-child.pid);
    };
    const over = (why: NonNullable<Ran["ended"]>) => {
      ended ??= why;
      end();
    };
    const timer = setTimeout(() => over("late"), limit * 1_000);
    const scales = setInterval(() => {
      const weight = descendantsOf(child.pid ?? 0).reduce((sum, { memory }) => sum + memory, 0);
      if (weight > MOST_MEMORY) over("memory");
    }, WEIGHED_EVERY);
    signal.addEventListener("abort", end, { once: true });
    child.on("error", (error) => hear(`${error.message}\n`));
    child.on("close", (code) => {
      clearTimeout(timer);
      clearInterval(scales);
      signal.removeEventListener("abort", end);
      end();
      resolve({ code: code ?? 137, output, ended });
    });
  });
}

function kill(pid: number): void {
  try {
    process.kill(pid, "SIGKILL");
  } catch {
    // It has ended already.
  }
}

/** A process and all that came of it, with what each holds in memory, in bytes. Nothing where the system does not tell. */
function descendantsOf(pid: number): { pid: number; memory: number }[] {
  const children = new Map<number, { pid: number; memory: number }[]>();
  const found: { pid: number; memory: number }[] = [];
  for (const name of namesIn("/proc")) {
    if (!/^\d+$/.test(name)) continue;
    const status = textOf(`/proc/${name}/status`);
    const parent = Number(/^PPid:\s*(\d+)/m.exec(status)?.[1] ?? 0);
    const one = { pid: Number(name), memory: Number(/^VmRSS:\s*(\d+)/m.exec(status)?.[1] ?? 0) * 1024 };
    if (one.pid === pid) found.push(one);
    addTo(children, parent, one);
  }
  for (let at = 0; at < found.length; at++) found.push(...(children.get(found[at].pid) ?? []));
  return found;
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}

function textOf(file: string): string {
  try {
    return readFileSync(file, "utf8");
  } catch {
    return "";
  }
}
