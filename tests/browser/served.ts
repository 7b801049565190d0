import { spawn } from "node:child_process";
import { createServer } from "node:net";

/** The built application on a folder of data, as a process of its own. */
export interface Served {
  address: string;
  /** What it printed when it started. */
  said: string;
  stop: () => Promise<void>;
}

/** Starts it, and waits until it has printed `begun`. */
export async function serve(data: string, begun = /Earnest Lens is at/): Promise<Served> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  const port = await freePort();
  const env = {
    ...process.env,
    NODE_ENV: "production" as const,
    LENS_ROOT: root,
    LENS_DATA: data,
    PORT: String(port),
    LENS_LOG: "error",
    LENS_MAIL_STANDIN: "yes",
    LENS_MAIL_QUIET: "1",
  };
  const code = 'import("./dist/lens.mjs").then(({ main }) => main(["serve"]))';
  const server = spawn(process.execPath, ["-e", code], { cwd: root, env, stdio: ["ignore", "pipe", "inherit"] });
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
    await new Promise((resolve) => (server.exitCode === null ? server.once("exit", resolve) : resolve(null)));
  };
  return { address: `http://localhost:${port}`, said, stop };
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once("error", reject);
    probe.listen(0, () => {
      const address = probe.address();
      const port = typeof address === "object" && address ? address.port : 0;
      probe.close(() => resolve(port));
    });
  });
}
