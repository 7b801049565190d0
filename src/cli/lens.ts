#!/usr/bin/env node
import { existsSync, readFileSync, realpathSync, renameSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { Script } from "node:vm";

/** The file of this build with all commands in it, without its ending: named by the build. */
declare const COMMANDS: string;

const here = fileURLToPath(import.meta.url);
const place = join(dirname(here), `${COMMANDS}.cjs`);
const cache = join(dirname(here), `${COMMANDS}.cache`);

/**
 * All commands as one script, with what the engine made of it when it was built: reading a hundred modules one by one took a command a third
 * of its time. An engine that is another one, or is told to work otherwise, takes no notice of what was kept.
 */
const script = new Script(
  `(function (exports, require, module, __filename, __dirname) {${readFileSync(place, "utf8")}\n})`,
  {
    filename: place,
    cachedData: existsSync(cache) ? readFileSync(cache) : undefined,
  },
);

function load(): typeof import("./main") {
  const module = { exports: {} };
  script.runInThisContext()(module.exports, createRequire(place), module, place, dirname(place));
  return module.exports as typeof import("./main");
}

export const { main, checkSettings } = load();

/** Whether what was kept could be used. */
export const isKept = script.cachedDataRejected === false;

/** Keeps what the engine has made of the commands, for those who start them later. Called by the build. */
export function keepCompiled(): void {
  writeFileSync(`${cache}.new`, script.createCachedData());
  renameSync(`${cache}.new`, cache);
}

if (existsSync(process.argv[1] ?? "") && realpathSync(process.argv[1]) === here) {
  process.env.LENS_ROOT ??= dirname(dirname(here));
  process.exitCode = await main(process.argv.slice(2));
}
