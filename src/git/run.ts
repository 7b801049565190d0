import { spawn } from "node:child_process";

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

export interface GitOptions {
  /** Written to git's standard input. */
  input?: string | Uint8Array;
  env?: Record<string, string>;
  /** Exit codes that are answers rather than errors; 0 always is. */
  answers?: readonly number[];
  /** Called with what git says on its standard error, as it comes. */
  progress?: (words: string) => void;
  signal?: AbortSignal;
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
    LC_ALL: "C.UTF-8",
    ...extra,
  };
}

/** Runs git in a repository's folder, or in none. Throws {@link GitError} for an exit code that is not an answer. */
export function git(folder: string | null, args: readonly string[], options: GitOptions = {}): Promise<GitResult> {
  return new Promise((resolve, reject) => {
    const child = spawn("git", folder ? ["--git-dir", folder, ...args] : args, {
      env: gitEnvironment(options.env),
      stdio: ["pipe", "pipe", "pipe"],
      signal: options.signal,
    });
    const out: Buffer[] = [];
    let err = "";
    child.stdout.on("data", (chunk: Buffer) => out.push(chunk));
    child.stderr.setEncoding("utf8").on("data", (chunk: string) => {
      err = (err + chunk).slice(-20_000);
      options.progress?.(chunk);
    });
    child.on("error", reject);
    child.on("close", (code) => {
      const result = { code: code ?? -1, stdout: Buffer.concat(out), stderr: err };
      if (result.code === 0 || options.answers?.includes(result.code)) resolve(result);
      else reject(new GitError(args, result.code, err));
    });
    // git may end before it has read everything; that shows in its exit code.
    child.stdin.on("error", () => undefined);
    child.stdin.end(options.input ?? "");
  });
}

/** Runs git and gives its output as text without the final newline. */
export async function gitText(
  folder: string | null,
  args: readonly string[],
  options: GitOptions = {},
): Promise<string> {
  return (await git(folder, args, options)).stdout.toString("utf8").replace(/\n$/, "");
}
