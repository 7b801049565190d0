/** `npm run dev`: the demo data with pages that are compiled as they are asked for; what is bundled is bundled again as it changes. */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { bundle, bundled, root } from "./prepare.mjs";

process.env.LENS_ROOT ??= root;
process.env.LENS_DATA ??= `${root}/.demo`;
await bundle();
const { makeDemo } = await import("../dist/demo.mjs");
await makeDemo(process.env.LENS_DATA, {});

let server = null;
let stopping = false;
const start = () => {
  server = spawn(process.execPath, [join(root, "scripts/lens.mjs"), "serve", "--dev"], {
    ...{ cwd: root, stdio: "inherit" },
    env: { ...process.env, LENS_BUNDLED: "yes" },
  });
  server.on("exit", (code) => {
    if (stopping) process.exit(code ?? 0);
  });
};
const restart = () => {
  if (server.exitCode !== null) return start();
  server.once("exit", start);
  server.kill("SIGTERM");
};
for (const signal of ["SIGINT", "SIGTERM"])
  process.on(signal, () => {
    stopping = true;
    server.kill("SIGTERM");
  });
start();

// The pages are the framework's to watch; the command line, the workers and the server around them are these.
const { context } = await import(pathToFileURL(join(root, "node_modules/esbuild/lib/main.js")).href);
let first = true;
const again = {
  name: "again",
  setup: (build) =>
    build.onEnd(async ({ errors }) => {
      if (!first && errors.length === 0) {
        await bundle();
        restart();
      }
      first = false;
    }),
};
const all = bundled();
const entryPoints = { ...all.entryPoints, commands: "src/cli/main.ts", lens: "src/cli/lens.ts" };
const watching = await context({ ...all, entryPoints, plugins: [...all.plugins, again], write: false });
await watching.watch();
