import { type ChildProcess, spawn } from "node:child_process";
import { freePort } from "@/server/app/free-port";

/** A server as a process of its own. */
export interface Served {
  address: string;
  /** What it printed when it started. */
  said: string;
  process: ChildProcess;
  /** Ends it, and waits until it has ended. */
  stop: () => Promise<void>;
}

interface How {
  port?: number;
  /** What it prints once it answers. */
  begun?: RegExp;
  env?: Record<string, string>;
  /** Arguments to node itself. */
  flags?: string[];
}

/** Starts the built application on a folder of data, at a port that is free unless one is given. */
export async function serve(
  data: string,
  { begun = /Earnest Lens is at/, env = {}, flags = [], ...rest }: How = {},
): Promise<Served> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  const code = 'import("./dist/lens.mjs").then(({ main }) => main(["serve"]))';
  return start([...flags, "-e", code], root, { ...rest, begun, env: { LENS_ROOT: root, LENS_DATA: data, ...env } });
}

/** Starts a server by arguments to node, in a folder. Fails where it ends before it has begun; one at any port begins again where that was taken meanwhile. */
export async function start(args: string[], cwd: string, how: How): Promise<Served> {
  const { port, begun = /Ready/, env } = how;
  const at = port ?? (await freePort());
  const server = spawn(process.execPath, args, {
    cwd,
    env: { ...process.env, NODE_ENV: "production", PORT: String(at), ...env },
    stdio: ["ignore", "pipe", "pipe"],
  });
  let said = "";
  let complained = "";
  server.stderr.on("data", (words: Buffer) => {
    complained = (complained + words).slice(-10_000);
    process.stderr.write(words);
  });
  const status = await new Promise<number | null | undefined>((resolve) => {
    server.stdout.on("data", (words: Buffer) => {
      said += words;
      if (begun.test(said)) resolve(undefined);
    });
    server.once("close", resolve);
  });
  if (status !== undefined) {
    if (port === undefined && /in use already|EADDRINUSE/.test(complained)) return start(args, cwd, how);
    throw new Error(`The server ended with ${status}.`);
  }
  const stop = async () => {
    server.kill("SIGTERM");
    if (server.exitCode === null && server.signalCode === null)
      await new Promise((resolve) => server.once("exit", resolve));
  };
  return { address: `http://localhost:${at}`, said, process: server, stop };
}
