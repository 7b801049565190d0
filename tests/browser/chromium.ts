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
  // A page lives for seconds here: making its code faster would take longer than it saves. And whoever drives it wants to know of each error where it came
  // from: found out afterwards, that takes all functions apart anew.
  "--js-flags=--no-opt,--no-maglev,--no-enable-lazy-source-positions",
];

const started = globalThis as { [name: symbol]: Promise<Browser | undefined> | undefined };
const OURS = Symbol.for("earnest-lens.tests.chromium");

/**
 * One Chromium for all files that this process tests, one after the other: the focus of one page would be taken away by another where two files had one at
 * the same time. It is spoken to through a pipe, with whose end it ends too; one that fell is followed by another. What it writes goes into a folder that somebody else takes away.
 */
export async function chromium(folder: string): Promise<Browser> {
  const running = await started[OURS];
  if (running?.connected) return running;
  const executablePath = process.env.LENS_CHROMIUM ?? "/usr/bin/chromium";
  const browser = puppeteer.launch({
    ...{ executablePath, pipe: true, args: FLAGS },
    userDataDir: mkdtempSync(join(folder, "profile-")),
  });
  started[OURS] = browser.catch(() => undefined);
  return browser;
}
