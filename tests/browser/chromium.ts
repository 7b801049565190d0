import { mkdtempSync } from "node:fs";
import { join } from "node:path";
import puppeteer, { type Browser } from "puppeteer-core";

const FLAGS = [
  "--no-sandbox",
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  // A page lives for seconds here: making its code faster would take longer than it saves.
  "--js-flags=--no-opt",
];

const started = globalThis as { [name: symbol]: Promise<Browser> | undefined };
const OURS = Symbol.for("earnest-lens.tests.chromium");

/**
 * One Chromium for all files that this process tests, one after the other: the focus of one page would be taken away by another where two files had one at
 * the same time. It is spoken to through a pipe, with whose end it ends too. What it writes goes into a folder that somebody else takes away.
 */
export function chromium(folder: string): Promise<Browser> {
  const executablePath = process.env.LENS_CHROMIUM ?? "/usr/bin/chromium";
  started[OURS] ??= puppeteer.launch({
    ...{ executablePath, pipe: true, args: FLAGS },
    userDataDir: mkdtempSync(join(folder, "profile-")),
  });
  return started[OURS];
}
