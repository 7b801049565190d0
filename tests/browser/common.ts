import { spawn } from "node:child_process";
import { cpSync, existsSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout } from "node:timers/promises";
import type { TestProject } from "vitest/node";
import { type Served, serve } from "~/tests/served";

/**
 * What all files of browser tests have in common, made once: the demo's data, of which each takes a copy, and one server for all that only read.
 */

declare module "vitest" {
  interface ProvidedContext {
    /** A folder for {@link demoData} and {@link readingRoom}; it goes when all is done. */
    common: string;
  }
}

/** Where is written how something ended, or where it is. */
const demoOf = (folder: string) => join(folder, "demo");
const roomOf = (folder: string) => join(folder, "room");
const FAILED = "failed";

export default function makeOnce(project: TestProject): () => Promise<void> {
  process.env.LENS_ROOT ??= project.config.root;
  process.env.LENS_LOG ??= "silent";
  const folder = mkdtempSync(join(tmpdir(), "lens-common-"));
  project.provide("common", folder);
  // Beside the tests that come before.
  const demo = makeDemo(join(folder, "data"));
  const room = demo.made.then(async (isMade) => {
    if (isMade) await lookedAfter(join(folder, "data"));
    write(demoOf(folder), isMade ? join(folder, "data") : FAILED);
    const served = isMade ? await serveCopy(join(folder, "data"), join(folder, "read")) : null;
    write(roomOf(folder), served?.address ?? FAILED);
    return served;
  });
  return async () => {
    demo.stop();
    await (await room)?.stop();
    // A browser that just ended may still write there.
    rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
  };
}

/** A server lives for a minute here: making its code as fast as can be takes longer than it saves. */
const BRIEF = ["--no-opt", "--always-sparkplug"];

/** The built application on a folder of data, with a mail server of its own, once it has printed `begun`. */
export function served(data: string, begun?: RegExp): Promise<Served> {
  return serve(data, {
    begun,
    flags: BRIEF,
    env: { LENS_BRIEF: "yes", LENS_LOG: "error", LENS_MAIL_STANDIN: "yes", LENS_MAIL_QUIET: "1" },
  });
}

/** So long, in milliseconds, a server is left alone with new data: what it does then by itself is done once, not in each copy. */
const ALONE = 6_000;

/** Serves data for a while, and lets go of them. */
async function lookedAfter(data: string): Promise<void> {
  const server = await served(data);
  await setTimeout(ALONE);
  await server.stop();
}

async function serveCopy(data: string, copy: string): Promise<Served | null> {
  cpSync(data, copy, { recursive: true });
  try {
    return await served(copy);
  } catch (error) {
    process.stderr.write(`${error}\n`);
    return null;
  }
}

function makeDemo(data: string): { made: Promise<boolean>; stop: () => void } {
  const code = 'import("./dist/demo.mjs").then(({ makeDemo }) => makeDemo(process.argv[1], {}))';
  const cwd = process.env.LENS_ROOT;
  const env = { ...process.env, LENS_BRIEF: "yes" };
  const child = spawn(process.execPath, ["-e", code, data], { cwd, env, stdio: ["ignore", "ignore", "inherit"] });
  const made = new Promise<boolean>((resolve) => child.once("exit", (status) => resolve(status === 0)));
  return { made, stop: () => child.kill() };
}

/** Whoever waits for it reads all of it or nothing. */
function write(place: string, words: string): void {
  writeFileSync(`${place}.new`, words);
  renameSync(`${place}.new`, place);
}

async function written(place: string, what: string): Promise<string> {
  while (!existsSync(place)) await setTimeout(100);
  const words = readFileSync(place, "utf8");
  if (words === FAILED) throw new Error(`${what} could not be made.`);
  return words;
}

/** A data folder with the demo in it, to be copied, once it is made. */
export const demoData = (common: string): Promise<string> => written(demoOf(common), "The demo’s data");

/** The address of a server for all tests that change nothing which another one reads. */
export const readingRoom = (common: string): Promise<string> => written(roomOf(common), "The room for reading");
