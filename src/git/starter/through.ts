import { type ChildProcess, spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { join } from "node:path";
import { isMainThread } from "node:worker_threads";
import { outside } from "../outside";

/** What git is started with: `input` is written to its standard input. */
export interface Start {
  args: readonly string[];
  env: NodeJS.ProcessEnv;
  input: string | Uint8Array;
}

/** Who started git hears what it says, and then once how it ended: its exit code, -1 where it was killed; or why it could not be started. */
export interface Hears {
  out: (bytes: Uint8Array) => void;
  err: (words: string) => void;
  ended: (code: number) => void;
  failed: (error: Error) => void;
}

export type Asked = { id: number; stop: true } | (Start & { id: number });
export type Answered = { id: number } & (
  | { out: Uint8Array }
  | { err: string }
  | { code: number }
  | { problem: string }
);

/** From so many bytes on, asking another process takes less time than being copied. */
const LARGE = 120e6;

interface Shared {
  starter: ChildProcess | null;
  /** The number of what was started last. */
  last: number;
  waiting: Map<number, Hears>;
}
const KEY = Symbol.for("earnest-lens.starter");
/** Pages and routes of a server are bundled apart, and share one small process. */
function shared(): Shared {
  const all = globalThis as { [KEY]?: Shared };
  all[KEY] ??= { starter: null, last: 0, waiting: new Map() };
  return all[KEY];
}

/** Whether git is better started by the small process: this one has become large, and the other is there. */
export function isBetterThrough(): boolean {
  return isMainThread && process.memoryUsage.rss() > LARGE && existsSync(place());
}

function place(): string {
  return join(process.env.LENS_ROOT ?? process.cwd(), "dist/starter.mjs");
}

/** Starts git through the small process, which is begun when it is first needed. Gives what ends it early. */
export function startThrough(start: Start, hears: Hears): () => void {
  const here = shared();
  here.starter ??= outside(() => begin(here));
  const through = here.starter;
  const id = ++here.last;
  here.waiting.set(id, hears);
  through.channel?.ref();
  through.send({ ...start, id } satisfies Asked);
  return () => through.connected && through.send({ id, stop: true } satisfies Asked);
}

function begin(here: Shared): ChildProcess {
  const child = spawn(process.execPath, [place()], {
    serialization: "advanced",
    stdio: ["ignore", "ignore", "inherit", "ipc"],
  });
  // Nobody waits for it, but for what it does now.
  child.unref();
  child.on("message", (answered: Answered) => hear(here, answered));
  const over = () => {
    if (here.starter !== child) return;
    here.starter = null;
    const left = [...here.waiting.values()];
    here.waiting.clear();
    for (const { failed } of left) failed(new Error("The process that starts git has ended."));
  };
  child.on("error", over);
  child.on("exit", over);
  return child;
}

function hear({ starter, waiting }: Shared, answered: Answered): void {
  const hears = waiting.get(answered.id);
  if (!hears) return;
  if ("out" in answered) hears.out(answered.out);
  else if ("err" in answered) hears.err(answered.err);
  else {
    waiting.delete(answered.id);
    if (waiting.size === 0) starter?.channel?.unref();
    if ("code" in answered) hears.ended(answered.code);
    else hears.failed(new Error(answered.problem));
  }
}
