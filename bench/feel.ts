import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import puppeteer, { type CDPSession, type Page } from "puppeteer-core";
import { type Served, serve } from "~/tests/served";
import { LARGE, makeFullHouse } from "./full-house";

const ADDRESS = "http://localhost:4396";
/** How often each key is pressed. */
const PRESSES = 24;

interface Felt {
  what: string;
  value: number;
  unit: "ms" | "kB" | "MB";
  bar: number;
}

/**
 * What a reader feels on a change set of many files, in headless Chromium: how long until it can be read, what each key takes until the next
 * picture, the longest task, the memory of the page. Needs `npm run build` and Chromium. `kept` is a folder in which what is made stays.
 */
export async function feel(say: (words: string) => void, kept?: string): Promise<number> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  process.env.LENS_LOG = "error";
  const folder = kept ?? mkdtempSync(join(tmpdir(), "lens-feel-"));
  const profile = mkdtempSync(join(tmpdir(), "lens-feel-profile-"));
  let server: Served | null = null;
  try {
    if (!existsSync(join(folder, "data"))) {
      say(`Making a house with a change set of ${LARGE} files …`);
      await makeFullHouse(folder, root);
    }
    server = await serve(join(folder, "data"), { port: Number(new URL(ADDRESS).port) });
    const browser = await puppeteer.launch({
      executablePath: process.env.LENS_CHROMIUM ?? "/usr/bin/chromium",
      userDataDir: profile,
      args: ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync"],
    });
    try {
      const page = await browser.newPage();
      await page.setViewport({ width: 1280, height: 800 });
      const felt = await readLarge(page);
      for (const { what, value, unit, bar } of felt) {
        const beyond = value > bar ? "  BEYOND" : "";
        console.log(`${what.padEnd(48)} ${value.toFixed(0).padStart(6)} ${unit}  (bar ${bar} ${unit})${beyond}`);
      }
      return felt.some(({ value, bar }) => value > bar) ? 1 : 0;
    } finally {
      await browser.close();
    }
  } finally {
    await server?.stop();
    rmSync(profile, { recursive: true, force: true });
    if (!kept) rmSync(folder, { recursive: true, force: true });
  }
}

async function readLarge(page: Page): Promise<Felt[]> {
  await page.goto(`${ADDRESS}/sign-in`, { waitUntil: "networkidle2" });
  await page.type('input[name="name"]', "kit");
  await page.type('input[name="password"]', "long enough");
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => document.body.textContent?.includes("’s desk"), { polling: 50 });
  // Once before it is measured: the scripts are in the browser's cache, as they are for whoever comes daily. Both threads compare meanwhile, where nobody was here before.
  await outlined(page);
  const early = await openedFiles(page);
  await page.evaluate(allCounted);
  const session = await page.createCDPSession();
  await session.send("Network.enable");
  const received = receivedBytes(session);
  const outline = await outlined(page);
  const bytes = received();
  await page.evaluate(watchTasks);
  const opened = await openedFiles(page);
  const felt: Felt[] = [
    { what: `${LARGE} files: outlined after`, value: outline, unit: "ms", bar: 1_000 },
    { what: "transferred until then, scripts aside", value: bytes / 1000, unit: "kB", bar: 150 },
    { what: "a file after being chosen, 95th of 8", value: at(opened, 0.95), unit: "ms", bar: 100 },
    { what: "the same while all is compared", value: at(early, 0.95), unit: "ms", bar: 100 },
  ];
  for (const [key, name] of [
    ["f", "F, the next file"],
    ["n", "N, the next file left to read"],
    ["m", "M, marked read"],
  ] as const) {
    const times: number[] = [];
    for (let n = 0; n < PRESSES; n++) times.push(await pressed(page, key));
    felt.push({
      what: `${name}, 95th of ${PRESSES} (median ${at(times, 0.5).toFixed(0)})`,
      value: at(times, 0.95),
      unit: "ms",
      bar: 50,
    });
  }
  await page.keyboard.down("Control");
  await page.keyboard.press("k");
  await page.keyboard.up("Control");
  await page.waitForSelector("[role=dialog] input");
  const typed: number[] = [];
  for (const letter of "berth-4711.txt next file") typed.push(await pressed(page, letter));
  felt.push({ what: "a letter in the command field, 95th", value: at(typed, 0.95), unit: "ms", bar: 50 });
  const longest = await page.evaluate(() => Math.max(0, ...((window as { tasks?: number[] }).tasks ?? [])));
  felt.push({ what: "longest task of all this", value: longest, unit: "ms", bar: 100 });
  await session.send("HeapProfiler.collectGarbage");
  const { JSHeapUsedSize } = await page.metrics();
  felt.push({ what: "memory of the page", value: (JSHeapUsedSize ?? 0) / 1e6, unit: "MB", bar: 150 });
  return felt;
}

/** Opens the large change set anew, and gives the milliseconds until its files are listed. */
async function outlined(page: Page): Promise<number> {
  const begun = performance.now();
  await page.goto(`${ADDRESS}/r/quay/c/2`, { waitUntil: "domcontentloaded" });
  await page.waitForFunction(
    () => /\.txt/.test(document.querySelector('nav[aria-label="Outline"]')?.textContent ?? ""),
    {
      polling: 20,
    },
  );
  return performance.now() - begun;
}

/** In the page: waits until the lines of all files are counted, and with that all is compared, and kept. */
async function allCounted(): Promise<void> {
  const answer = await fetch(`/api/repos/quay/changes/2/counts?from=base&to=r1`);
  if (!answer.ok) throw new Error(`The lines were not counted: ${answer.status}.`);
  await answer.text();
}

/** What it takes to open some of the listed files, one after the other. */
async function openedFiles(page: Page): Promise<number[]> {
  const took: number[] = [];
  for (let n = 3; n < 11; n++) took.push(await page.evaluate(openFile, n));
  return took;
}

/** In the page: chooses one of the listed files, and gives the milliseconds until its lines are there. */
async function openFile(n: number): Promise<number> {
  const files = [...document.querySelectorAll<HTMLElement>('nav[aria-label="Outline"] button')];
  const file = files.filter(({ textContent }) => /\.txt/.test(textContent ?? ""))[n];
  const [, number] = /-(\d+)\.txt/.exec(file.title) ?? [];
  const begun = performance.now();
  file.click();
  await new Promise<void>((resolve) => {
    const look = () =>
      document.querySelector("main")?.textContent?.includes(`line 5 of ${number} edited`)
        ? resolve()
        : requestAnimationFrame(look);
    look();
  });
  return performance.now() - begun;
}

/** Milliseconds from a key to the picture after it, as the page sees them. */
async function pressed(page: Page, key: string): Promise<number> {
  await page.evaluate(() => {
    const watched = window as { took?: Promise<number> };
    watched.took = new Promise((resolve) => {
      const began = () => {
        const begun = performance.now();
        requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - begun)));
      };
      addEventListener("keydown", began, { capture: true, once: true });
    });
  });
  await page.keyboard.press(key as "f");
  const took = await page.evaluate(() => (window as { took?: Promise<number> }).took!);
  await new Promise((resolve) => setTimeout(resolve, 60));
  return took;
}

/** Notes how long tasks of more than 50 ms take. */
function watchTasks(): void {
  const watched = window as { tasks?: number[] };
  watched.tasks = [];
  new PerformanceObserver((list) => {
    for (const { duration } of list.getEntries()) watched.tasks!.push(duration);
  }).observe({ entryTypes: ["longtask"] });
}

/** Counts what comes over the network, save scripts, styles and letters. */
function receivedBytes(session: CDPSession): () => number {
  let sum = 0;
  const asides = new Set<string>();
  session.on("Network.responseReceived", ({ requestId, response }) => {
    if (response.url.includes("/_next/static/")) asides.add(requestId);
  });
  session.on("Network.loadingFinished", ({ requestId, encodedDataLength }) => {
    if (!asides.has(requestId)) sum += encodedDataLength;
  });
  return () => sum;
}

function at(times: number[], share: number): number {
  const sorted = [...times].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
}
