import { type ChildProcessWithoutNullStreams, spawn } from "node:child_process";
import { basename, dirname } from "node:path";
import type { Duplex } from "node:stream";
import { gitEnvironment } from "../run";

export interface BackendRequest {
  folder: string;
  /** What is asked of the repository: "info/refs", "git-upload-pack" or "git-receive-pack". */
  service: string;
  method: string;
  /** Without its question mark. */
  query: string;
  person: string;
  headers: NodeJS.Dict<string | string[]>;
  config: Record<string, string | readonly string[]>;
}

/** The program, and the channel of its hooks where it takes a push: what they write comes out of it, and they read what is written into it. */
export type Backend = ChildProcessWithoutNullStreams & { hooks: Duplex | null };

/** What takes a push, and so has hooks. */
const TAKES = "git-receive-pack";

/**
 * Starts git's own program for its smart HTTP protocol; it speaks CGI on its standard streams. It is not told how long the body is: this git
 * waits for what is missing of it for ever, at the cost of a whole processor, when the connection is cut. The end of its input tells it.
 */
export function startBackend(request: BackendRequest): Backend {
  const { folder, service, method, query, person, headers, config } = request;
  const hasHooks = service === TAKES;
  const given = (name: string, key: string) => (headers[name] ? { [key]: String(headers[name]) } : {});
  const backend = spawn("git", ["http-backend"], {
    env: gitEnvironment({
      GIT_PROJECT_ROOT: dirname(folder),
      GIT_HTTP_EXPORT_ALL: "1",
      PATH_INFO: `/${basename(folder)}/${service}`,
      REQUEST_METHOD: method,
      QUERY_STRING: query,
      REMOTE_USER: person,
      REMOTE_ADDR: "",
      ...given("content-type", "CONTENT_TYPE"),
      ...given("content-encoding", "HTTP_CONTENT_ENCODING"),
      ...given("git-protocol", "GIT_PROTOCOL"),
      ...configured(config),
      // They find their channel under this number.
      ...(hasHooks ? { LENS_HOOK: "3" } : {}),
    }),
    stdio: ["pipe", "pipe", "pipe", ...(hasHooks ? (["pipe"] as const) : [])],
    detached: true,
  }) as ChildProcessWithoutNullStreams;
  const hooks = (backend.stdio[3] as Duplex | undefined) ?? null;
  // What tidies up after a push goes on when it is over, and has the channel, too.
  backend.once("exit", () => hooks?.destroy());
  return Object.assign(backend, { hooks });
}

/** Ends it with everything that it began. */
export function endBackend({ pid }: ChildProcessWithoutNullStreams): void {
  try {
    if (pid) process.kill(-pid, "SIGTERM");
  } catch {
    // It has ended already.
  }
}

function configured(config: Record<string, string | readonly string[]>): Record<string, string> {
  const entries = Object.entries(config).flatMap(([key, values]) =>
    [values].flat().map((value) => [key, value] as const),
  );
  const env: Record<string, string> = { GIT_CONFIG_COUNT: String(entries.length) };
  for (const [i, [key, value]] of entries.entries()) {
    env[`GIT_CONFIG_KEY_${i}`] = key;
    env[`GIT_CONFIG_VALUE_${i}`] = value;
  }
  return env;
}
