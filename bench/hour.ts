import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout } from "node:timers/promises";
import { addPerson, setRole } from "@/server/access/people";
import { openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { type Served, serve } from "~/tests/served";
import { FULL, LARGE, makeFullHouse } from "./full-house";
import { memoryOf, need, PASSWORD, signIn } from "./parts";

const READERS = 50;
/** Each reader asks again after this many milliseconds. */
const PAUSE = 5_000;
/** The 95th part of all pages stays under this, in milliseconds. */
const SOON = 200;
/** How often it is told how far it has come, in milliseconds. */
const TOLD = 300_000;
const MB = 1_000_000;
/** Bytes of memory, once it is over and while a change set of many files is compared. */
const ROOM = { after: 350 * MB, most: 1_000 * MB };

/** What a reader goes through, again and again, each beginning somewhere else: the desk, a change set, what its page asks for, a list. */
const path = (reader: number, turn: number): string => {
  const number = 3 + ((reader * 31 + turn * 7) % (FULL - 2));
  const walk = [
    "/",
    `/r/quay/c/${number}`,
    `/api/repos/quay/changes/${number}`,
    `/api/repos/quay/changes/${number}/reading?from=base&to=r1`,
    "/lists?q=state%3Aopen",
    "/r/quay/c/2",
  ];
  return walk[(reader + turn) % walk.length];
};

/**
 * Fifty readers who each ask every five seconds for so many minutes, beside 600 open change sets and one of 10,000 files: how long pages take, and the
 * memory of the server. Needs `npm run build`; `kept` is a folder that stays.
 */
export async function hour(say: (words: string) => void, minutes = 60, kept?: string): Promise<number> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  process.env.LENS_LOG = "error";
  const folder = kept ?? mkdtempSync(join(tmpdir(), "lens-hour-"));
  let server: Served | null = null;
  try {
    if (!existsSync(join(folder, "data"))) {
      say(`Making ${FULL} change sets, and one of ${LARGE} files …`);
      await makeFullHouse(folder, root);
      await addReaders(join(folder, "data"), root);
    }
    server = await serve(join(folder, "data"));
    const { address, process: child } = server;
    let most = 0;
    const watch = setInterval(() => {
      most = Math.max(most, memoryOf(child));
    }, 50);
    const cookies: string[] = [];
    for (let n = 0; n < READERS; n++) cookies.push(await signIn(address, nameOf(n)));
    say("The change set of many files is compared …");
    await get(`${address}/api/repos/quay/changes/2/reading?from=base&to=r1`, cookies[0]);
    const compared = most;
    say(`${READERS} readers for ${minutes} minutes …`);
    const times: number[] = [];
    let slowest = { took: 0, asked: "" };
    const until = performance.now() + minutes * 60_000;
    const telling = setInterval(() => say(`${times.length} pages, ${toMB(memoryOf(child))} MB`), TOLD);
    most = 0;
    await Promise.all(cookies.map((cookie, reader) => read(reader, cookie)));
    clearInterval(telling);
    clearInterval(watch);
    const after = memoryOf(child);
    times.sort((a, b) => a - b);
    const at = (part: number) => times[Math.min(times.length - 1, Math.floor(times.length * part))];
    const rows: [what: string, value: number, unit: string, bar: number | null][] = [
      [`pages, the middle one of ${times.length}`, at(0.5), "ms", null],
      ["pages, 95th", at(0.95), "ms", SOON],
      [`pages, the longest (${slowest.asked})`, slowest.took, "ms", null],
      [`memory while ${LARGE} files are compared, at most`, compared / MB, "MB", ROOM.most / MB],
      [`memory in ${minutes} minutes of it, at most`, most / MB, "MB", null],
      [`memory after ${minutes} minutes`, after / MB, "MB", ROOM.after / MB],
    ];
    for (const [what, value, unit, bar] of rows) {
      const beside = bar === null ? "" : `  (bar ${bar} ${unit})${value > bar ? "  BEYOND" : ""}`;
      console.log(`${what.padEnd(64)} ${value.toFixed(0).padStart(6)} ${unit}${beside}`);
    }
    return rows.some(([, value, , bar]) => bar !== null && value > bar) ? 1 : 0;

    async function read(reader: number, cookie: string): Promise<void> {
      await setTimeout((PAUSE / READERS) * reader);
      for (let turn = 0; performance.now() < until; turn++) {
        const begun = performance.now();
        const asked = path(reader, turn);
        await get(address + asked, cookie);
        const took = performance.now() - begun;
        times.push(took);
        if (took > slowest.took) slowest = { took, asked };
        await setTimeout(Math.max(0, begun + PAUSE - performance.now()));
      }
    }
  } finally {
    await server?.stop();
    if (!kept) rmSync(folder, { recursive: true, force: true });
  }
}

const toMB = (bytes: number) => Math.round(bytes / MB);

const nameOf = (n: number) => `reader-${n}`;

async function addReaders(data: string, root: string): Promise<void> {
  const app = await openApp(bareSettings(data, root));
  for (let n = 0; n < READERS; n++) {
    const name = nameOf(n);
    const person = { name, fullName: `Reader ${n}`, email: `${name}@x.example`, password: PASSWORD };
    need(await addPerson(app, person));
    need(await setRole(app, name, "quay", "reader"));
  }
  await app.close();
}

async function get(address: string, cookie: string): Promise<void> {
  const response = await fetch(address, { headers: { cookie } });
  if (!response.ok) throw new Error(`${address} was answered with ${response.status}.`);
  await response.arrayBuffer();
}
