/**
 * What every command here needs before it can run: packages installed, the command line and worker bundled, the pages built.
 * Each step is skipped when nothing it depends on has changed, so the second time is quick. Uses nothing but Node.
 */
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { basename, dirname, join, sep } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import { inAscii, putInAscii } from "./in-ascii.mjs";

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
process.env.NEXT_TELEMETRY_DISABLED = "1";

/** Runs a command in the project's folder with its output shown; a failure ends this process with the same code. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: "inherit", ...options });
  if (error) stop(`${command} could not be started: ${error.message}`);
  if (status !== 0) process.exit(status ?? 1);
}

/** The same while other things are done. */
async function beside(command, args) {
  const child = spawn(command, args, { cwd: root, stdio: "inherit" });
  const status = await new Promise((resolve) => child.once("error", () => resolve(1)).once("exit", resolve));
  if (status !== 0) process.exit(status ?? 1);
}

export function stop(sentence) {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

/** A tool from node_modules/.bin, run by this very Node. */
export function tool(name) {
  return join(root, "node_modules", ".bin", name);
}

export function install() {
  const [major, minor] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 12))
    stop(`Earnest Lens needs Node 20.12 or newer; this is ${process.versions.node}.`);
  if (spawnSync("git", ["--version"]).status !== 0) stop("Earnest Lens needs git, and there is none on the PATH.");
  once("node_modules/.earnest-lens", ["package.json", "package-lock.json"], () => {
    say("Installing packages …");
    // Not `npm ci`: it refuses a lock file in which a registry could not name the builds for every other platform.
    run("npm", ["install", "--no-save", "--include=dev", "--no-audit", "--no-fund", "--loglevel=error"], {
      stdio: ["ignore", "inherit", "inherit"],
    });
  });
}

/** Of many small files each: found one by one they take longer at every start than what they do. */
const INSIDE =
  /^(?:commander|jose|kysely|lru-cache|oauth4webapi|openid-client|unhomoglyph|valibot|unified|unist-|remark-|rehype-|hast|mdast-|xast)/;

/** The packages that stay what they are. */
function outside() {
  const { dependencies, devDependencies } = JSON.parse(readFileSync(join(root, "package.json"), "utf8"));
  return Object.keys({ ...dependencies, ...devDependencies }).filter((name) => !INSIDE.test(name));
}

/** All routes of the API by their paths, for a process that asks them without a server: each is loaded when it is asked. */
const routes = {
  name: "routes",
  setup({ onResolve, onLoad }) {
    onResolve({ filter: /^virtual:routes$/ }, () => ({ path: "routes", namespace: "routes" }));
    onLoad({ filter: /.*/, namespace: "routes" }, () => {
      const files = readdirSync(join(root, "src/app/api"), { recursive: true }).filter((file) =>
        file.endsWith("route.ts"),
      );
      const entries = files.map((file) => {
        const path = `/api/${file.split(sep).join("/")}`;
        return `${JSON.stringify(dirname(path))}: () => import(${JSON.stringify(`./src/app${path}`)})`;
      });
      return { contents: `export const ROUTES = { ${entries.join(", ")} };`, resolveDir: root };
    });
  },
};

/** What is bundled: all that the command line, the workers and the demo are made of. */
export function bundled() {
  return {
    absWorkingDir: root,
    entryPoints: {
      worker: "src/server/workers/worker.ts",
      starter: "src/git/starter/starter.ts",
      demo: "demo/main.ts",
      bench: "bench/main.ts",
    },
    outdir: "dist",
    outExtension: { ".js": ".mjs" },
    bundle: true,
    splitting: true,
    format: "esm",
    platform: "node",
    target: "node20",
    external: outside(),
    plugins: [routes],
    // A package of the older kind asks for what Node brings with it, also where it is bundled.
    banner: { js: 'import { createRequire as __from } from "node:module"; const require = __from(import.meta.url);' },
    // Half the bytes: what a command loads is parsed each time.
    minifyWhitespace: true,
    minifySyntax: true,
    sourcemap: true,
    metafile: true,
    logLevel: "warning",
  };
}

/** The commands as one script: see src/cli/lens.ts, which begins them. Its name says what is in it, so that nothing kept of another one is taken for it. */
function asOne() {
  const url = "require('node:url').pathToFileURL(__filename).href";
  return {
    ...bundled(),
    entryPoints: { commands: "src/cli/main.ts" },
    entryNames: "[name]-[hash]",
    outExtension: { ".js": ".cjs" },
    splitting: false,
    format: "cjs",
    banner: { js: `"use strict"; const __url = ${url};` },
    define: { "import.meta.url": "__url" },
    // An engine that starts a script from what it kept of it cannot import from there, where it is not the newest.
    supported: { "dynamic-import": false },
  };
}

const BUNDLED = [
  "src",
  "demo",
  "bench",
  "tests/served.ts",
  "scripts/prepare.mjs",
  "scripts/in-ascii.mjs",
  "package-lock.json",
];
const DRAWN = ["src", "public", "package-lock.json", "next.config.mjs", "postcss.config.mjs", "scripts/in-ascii.mjs"];

/** The command line, the workers and the demo as plain JavaScript in dist/. */
export async function bundle() {
  install();
  await once("dist/.made", BUNDLED, async () => {
    const { build } = await import(pathToFileURL(join(root, "node_modules/esbuild/lib/main.js")).href);
    const made = async (how) => Object.keys((await build(how)).metafile.outputs);
    const commands = await made(asOne());
    const name = basename(
      commands.find((file) => file.endsWith(".cjs")),
      ".cjs",
    );
    const entryPoints = { lens: "src/cli/lens.ts" };
    const lens = { ...bundled(), entryPoints, splitting: false, define: { COMMANDS: JSON.stringify(name) } };
    const scripts = [...commands, ...(await made(bundled())), ...(await made(lens))];
    for (const path of scripts.filter((one) => /\.[cm]js$/.test(one))) {
      const place = join(root, path);
      writeFileSync(place, inAscii(readFileSync(place, "utf8")));
    }
    const all = [...scripts, `dist/${name}.cache`];
    run(process.execPath, ["-e", 'import("./dist/lens.mjs").then(({ keepCompiled }) => keepCompiled())']);
    clear(new Set(all));
  });
}

const A_DAY = 86_400_000;

/** Takes away what earlier builds left. What is younger than a day may be asked for yet, by a server that was started from it. */
function clear(made) {
  for (const name of readdirSync(join(root, "dist"))) {
    const place = join(root, "dist", name);
    const isLeft = /\.(?:[mc]js(?:\.map)?|cache)$/.test(name) && !made.has(`dist/${name}`);
    if (isLeft && Date.now() - statSync(place).mtimeMs > A_DAY) rmSync(place);
  }
}

/** The pages, for production. */
export async function build() {
  await bundle();
  await once(".next/.made", DRAWN, () => {
    say("Building the pages …");
    run(process.execPath, [join(root, "node_modules/next/dist/bin/next"), "build"], {
      env: { ...process.env, NODE_ENV: "production" },
    });
    putInAscii(join(root, ".next/server"));
  });
}

/** What is made here, or is told to nobody but people: all else in the folder is looked at by lint, imports and types. */
const UNCHECKED =
  /^(?:\.git|\.next|\.demo|\.cache|node_modules|dist|data|docs|next-env\.d\.ts|.*\.tsbuildinfo|.*\.md)$/;

/** Lint, the direction of imports, and types: done again when something of that changed. Ends the process where one of them complains. */
export function check() {
  const inputs = readdirSync(root).filter((name) => !UNCHECKED.test(name));
  const all = [
    [tool("biome"), ["check", "."]],
    [tool("depcruise"), ["--config", ".dependency-cruiser.cjs", "src", "demo", "bench"]],
    [process.execPath, [join(root, "node_modules/typescript-native/bin/tsc"), "--noEmit"]],
  ];
  const step = () => Promise.all(all.map(([command, args]) => beside(command, args)));
  return once("node_modules/.earnest-lens-checked", inputs, step, { tests: true });
}

function say(words) {
  process.stderr.write(`${words}\n`);
}

/** What is no part of what is made: a page that is built says the same, whatever its tests say. */
const isTest = (path) => path.endsWith(".test.ts") || path.endsWith(".test.tsx");

/** Does a step, and remembers by `stamp` what it was done from: the inputs, tests among them only where the step looks at them. */
function once(stamp, inputs, step, { tests = false } = {}) {
  const place = join(root, stamp);
  const now = fingerprint(inputs, tests);
  if (existsSync(place) && readFileSync(place, "utf8") === now) return;
  const keep = () => {
    mkdirSync(dirname(place), { recursive: true });
    writeFileSync(place, now);
  };
  const done = step();
  return done instanceof Promise ? done.then(keep) : keep();
}

function fingerprint(inputs, tests) {
  const hash = createHash("sha256");
  const add = (path) => {
    const full = join(root, path);
    if (!existsSync(full)) return;
    if (statSync(full).isDirectory()) for (const entry of readdirSync(full).sort()) add(join(path, entry));
    else if (tests || !isTest(path)) hash.update(path).update("\0").update(readFileSync(full)).update("\0");
  };
  for (const input of inputs) add(input);
  return hash.digest("hex");
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await build();
