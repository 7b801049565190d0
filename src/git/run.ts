import { spawn } from "node:child_process";
import { inFigures } from "@/core/plain/words";
import { type Hears, isBetterThrough, type Start, startThrough } from "./starter/through";

/** git ended with an error that its caller had no answer for. */
export class GitError extends Error {
  constructor(
    readonly args: readonly string[],
    readonly code: number,
    readonly stderr: string,
  ) {
    super(`git ${args[0]} ended with ${code}: ${stderr.trim().slice(0, 2000)}`);
  }
}

/** git was ended, since it took longer or said more than it may. */
export class GitEnded extends Error {}

/** What git may take where nothing else is said: seconds, and bytes of its answer. Histories can be made that it would go through for ever. */
const WITHIN = 120;
const MOST = 256_000_000;

export interface GitOptions {
  /** Written to git's standard input. */
  input?: string | Uint8Array;
  env?: Record<string, string>;
  /** Exit codes that are answers rather than errors; 0 always is. */
  answers?: readonly number[];
  /** Called with what git says on its standard error, as it comes. */
  progress?: (words: string) => void;
  signal?: AbortSignal;
  /** Seconds after which it is ended: 0 for at once, `Infinity` for what carries whole histories. */
  within?: number;
  /** Bytes of its answer after which it is ended. */
  most?: number;
  /** Called with its answer as it comes: it is not held then, so it may be of any length, and the result has none. */
  out?: (bytes: Uint8Array) => void;
}

export interface GitResult {
  code: number;
  stdout: Buffer;
  stderr: string;
}

/** Neither the machine's nor a person's configuration may change what git does here, and git may never ask a question. */
export function gitEnvironment(extra: Record<string, string> = {}): NodeJS.ProcessEnv {
  const inherited = Object.entries(process.env).filter(([name]) => !name.startsWith("GIT_"));
  return {
    ...(Object.fromEntries(inherited) as NodeJS.ProcessEnv),
    GIT_CONFIG_NOSYSTEM: "1",
    GIT_CONFIG_GLOBAL: "/dev/null",
    GIT_TERMINAL_PROMPT: "0",
    GIT_OPTIONAL_LOCKS: "0",
    // What is read is what a commit holds, whatever a repository would show in its place.
    GIT_NO_REPLACE_OBJECTS: "1",
    LC_ALL: "C.UTF-8",
    ...extra,
  };
}

/**
 * Runs git in a repository's folder, or in none. Throws {@link GitError} for an exit code that is not an answer, and {@link GitEnded} where it takes
 * longer or says more than it may.
 */
export function git(folder: string | null, args: readonly string[], options: GitOptions = {}): Promise<GitResult> {
  return new Promise((resolve, reject) => {
    const { env, input = "", answers, progress, signal, within = WITHIN, most = MOST, out: hear } = options;
    signal?.throwIfAborted();
    let out: Uint8Array[] = [];
    let left = most;
    let err = "";
    const how = { args: folder ? ["--git-dir", folder, ...args] : args, env: gitEnvironment(env), input };
    const stop = (isBetterThrough() ? startThrough : startHere)(how, {
      out: (bytes) => {
        if (hear) return through(hear, bytes);
        left -= bytes.length;
        if (left < 0) end(new GitEnded(`git has more to say here than ${inFigures(most)} bytes, and was ended.`));
        else out.push(bytes);
      },
      err: (words) => {
        err = (err + words).slice(-20_000);
        progress?.(words);
      },
      ended: (code) => {
        forget();
        if (code === 0 || answers?.includes(code)) resolve({ code, stdout: Buffer.concat(out), stderr: err });
        else reject(new GitError(args, code, err));
      },
      failed: (error) => {
        forget();
        reject(error);
      },
    });
    const end = (why: unknown) => {
      stop();
      forget();
      out = [];
      reject(why);
    };
    const through = (take: (bytes: Uint8Array) => void, bytes: Uint8Array) => {
      try {
        take(bytes);
      } catch (error) {
        end(error);
      }
    };
    const abort = () => end(signal?.reason);
    const late = () => end(new GitEnded(`git took longer than ${within} seconds for this, and was ended.`));
    const timer = Number.isFinite(within) && within > 0 ? setTimeout(late, within * 1_000) : undefined;
    const forget = () => {
      clearTimeout(timer);
      signal?.removeEventListener("abort", abort);
    };
    signal?.addEventListener("abort", abort, { once: true });
    if (within <= 0) late();
  });
}

function startHere({ args, env, input }: Start, { out, err, ended, failed }: Hears): () => void {
  const child = spawn("git", args, { env, stdio: ["pipe", "pipe", "pipe"] });
  child.stdout.on("data", out);
  child.stderr.setEncoding("utf8").on("data", err);
  child.on("error", failed);
  child.on("close", (code) => ended(code ?? -1));
  // git may end before it has read everything; that shows in its exit code.
  child.stdin.on("error", () => undefined);
  child.stdin.end(input);
  return () => child.kill();
}

/** Runs git and gives its output as text without the final newline. */
export async function gitText(
  folder: string | null,
  args: readonly string[],
  options: GitOptions = {},
): Promise<string> {
  return (await git(folder, args, options)).stdout.toString("utf8").replace(/\n$/, "");
}
