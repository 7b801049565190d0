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
}

/** Starts the built application on a folder of data, at a port that is free unless one is given. */
export async function serve(
  data: string,
  { begun = /Earnest Lens is at/, env = {}, ...rest }: How = {},
): Promise<Served> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  const code = 'import("./dist/lens.mjs").then(({ main }) => main(["serve"]))';
  return start(["-e", code], root, { ...rest, begun, env: { LENS_ROOT: root, LENS_DATA: data, ...env } });
}

/** Starts a server by arguments to node, in a folder. Fails where it ends before it has begun. */
export async function start(args: string[], cwd: string, { port, begun = /Ready/, env }: How): Promise<Served> {
  const at = port ?? (await freePort());
  const server = spawn(process.execPath, args, {
    cwd,
    env: { ...process.env, NODE_ENV: "production", PORT: String(at), ...env },
    stdio: ["ignore", "pipe", "inherit"],
  });
  let said = "";
  await new Promise<void>((resolve, reject) => {
    server.stdout.on("data", (words: Buffer) => {
      said += words;
      if (begun.test(said)) resolve();
    });
    server.once("exit", (status) => reject(new Error(`The server ended with ${status}.`)));
  });
  const stop = async () => {
    server.kill("SIGTERM");
    if (server.exitCode === null && server.signalCode === null)
      await new Promise((resolve) => server.once("exit", resolve));
  };
  return { address: `http://localhost:${at}`, said, process: server, stop };
}
