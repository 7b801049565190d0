import { spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { COMMAND_LINE } from "@/server/access/audit";
import { addPerson, findPerson, setRole } from "@/server/access/people";
import { addRepository } from "@/server/access/repositories";
import { makeToken } from "@/server/access/tokens";
import { openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { openChange } from "@/server/changes/revisions/opening";
import { type Served, serve } from "~/tests/served";
import { memoryOf, need, signIn } from "./parts";

const READERS = 10;
/** Each reader asks again after this many milliseconds, as someone who turns pages quickly. */
const PAUSE = 150;
const MB = 1 << 20;
/** Change sets beside the large one. */
const OFFERED = 20;

/** Serves a repository that is large, lets people read in it, and meanwhile clones it and pushes to it with an ordinary git client. */
export async function serving(say: (words: string) => void, megabytes = 500): Promise<number> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  process.env.LENS_LOG = "error";
  const folder = mkdtempSync(join(tmpdir(), "lens-serving-"));
  const data = join(folder, "data");
  const work = join(folder, "work");
  let server: Served | null = null;
  try {
    say(`Making a repository of ${megabytes} MB …`);
    mkdirSync(work);
    await git(work, "init", "--quiet", "--initial-branch=main");
    for (let i = 0; i < megabytes / 10; i++) writeFileSync(join(work, `survey-${i}.bin`), randomBytes(10 * MB));
    for (let i = 0; i < 200; i++) writeFileSync(join(work, `berth-${i}.ts`), lines(i, 0));
    await commit(work, "main");
    await git(work, "checkout", "--quiet", "-b", "topic");
    for (let i = 0; i < 200; i++) writeFileSync(join(work, `berth-${i}.ts`), lines(i, 1));
    await commit(work, "topic");
    for (let n = 0; n < OFFERED; n++) {
      await git(work, "checkout", "--quiet", "-b", `small-${n}`, "main");
      for (let i = n; i < 200; i += OFFERED) writeFileSync(join(work, `berth-${i}.ts`), lines(i, 2 + n));
      await commit(work, `small ${n}`);
    }
    const app = await openApp(bareSettings(data, root));
    const token = await people(app, work);
    await app.close();

    server = await serve(data);
    const { address, process: child } = server;
    const remote = `${address.replace("//", `//ada:${token}@`)}/git/quay.git`;
    const headers = { cookie: await signIn(address, "ada") };
    const pages = ["/api/repos/quay/changes/1", "/api/repos/quay/changes/1/reading?from=base&to=r1", "/r/quay/c/1"];
    for (let round = 0; round < 5; round++) for (const page of pages) await timed(address + page, headers);

    let most = memoryOf(child);
    const watch = setInterval(() => {
      most = Math.max(most, memoryOf(child));
    }, 50);
    const grown = (since: number) => most - since;
    // What the pages themselves make of memory is seen first, by itself.
    const first = most;
    const alone = await during(() => later(12_000), { address, headers, pages });
    const byPages = grown(first);
    const kit = { cookie: await signIn(address, "kit") };
    const crowding = await during(() => crowd(address, kit), { address, headers, pages });
    const before = most;
    const cloning = await during(() => git(folder, "clone", "--quiet", remote, "clone"), { address, headers, pages });
    const cloned = grown(before);
    const clone = join(folder, "clone");
    await git(clone, "checkout", "--quiet", "-b", "survey");
    for (let i = 0; i < 20; i++) writeFileSync(join(clone, `more-${i}.bin`), randomBytes(10 * MB));
    await commit(clone, "survey");
    const beforePush = most;
    const pushing = await during(() => git(clone, "push", "--quiet", "origin", "survey"), { address, headers, pages });
    clearInterval(watch);
    const row = (name: string, { times, took }: Watched, more: number) =>
      console.log(
        `${name.padEnd(34)} ${(took / 1000).toFixed(1).padStart(6)} s  pages: median ${at(times, 0.5)} ms, 95th ${at(times, 0.95)} ms, longest ${at(times, 1)} ms (${times.length}), the server took ${(more / MB).toFixed(0)} MB more than before`,
      );
    row("ten readers alone", alone, byPages);
    row("beside 8 previews, trials, searches", crowding, 0);
    row(`beside a clone of ${megabytes} MB`, cloning, cloned);
    row("beside a push of 200 MB", pushing, grown(beforePush));
    return 0;
  } finally {
    await server?.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** For some seconds: eight previews of merges, eight trials of rules and eight searches at once, and again, all by one person. */
async function crowd(address: string, headers: Record<string, string>): Promise<void> {
  const until = performance.now() + 10_000;
  const repository = `${address}/api/repos/quay`;
  const rules = { rules: [{ branches: "main", mostToRead: 100, stewards: [{ paths: "**", of: ["kit"] }] }] };
  const trial = {
    method: "POST",
    headers: { ...headers, "content-type": "application/json" },
    body: JSON.stringify({ rules }),
  };
  for (let n = 0; performance.now() < until; n++) {
    const eight = Array.from({ length: 8 }, (_, i) => [
      fetch(`${repository}/changes/${1 + ((n + i) % OFFERED)}/merge?how=merge`, { headers }),
      fetch(`${repository}/rules/try`, trial),
      fetch(`${repository}/changes/1/search?from=base&to=r1&where=whole&words=berth${n}_${i}`, { headers }),
    ]);
    for (const answer of await Promise.all(eight.flat())) {
      // Those that are more than one person may have waiting are refused at once.
      if (![200, 429].includes(answer.status))
        throw new Error(`A deed of the crowd was answered with ${answer.status}.`);
      await answer.arrayBuffer();
    }
  }
}

async function people(app: Awaited<ReturnType<typeof openApp>>, work: string): Promise<string> {
  const ada = { name: "ada", fullName: "Ada Example", email: "ada@x.example", password: "long enough" };
  need(await addPerson(app, ada));
  need(await addRepository(app, "quay", { kind: "folder", path: work }));
  need(await setRole(app, "ada", "quay", "contributor"));
  need(await addPerson(app, { ...ada, name: "kit", fullName: "Kit Example", email: "kit@x.example" }));
  need(await setRole(app, "kit", "quay", "keeper"));
  const person = (await findPerson(app.db, "ada"))!;
  need(
    await openChange(app, person, "quay", { source: "topic", target: "main", title: "All berths", description: "" }),
  );
  for (let n = 0; n < OFFERED; n++) {
    const request = { source: `small-${n}`, target: "main", title: `Some berths ${n}`, description: "" };
    need(await openChange(app, person, "quay", request));
  }
  return need(await makeToken(app, "ada", { label: "bench" }, COMMAND_LINE));
}

interface Watched {
  /** Milliseconds of each page, ascending. */
  times: number[];
  took: number;
}

/** What pages take while something else goes on. */
async function during(
  work: () => Promise<unknown>,
  { address, headers, pages }: { address: string; headers: Record<string, string>; pages: string[] },
): Promise<Watched> {
  const times: number[] = [];
  let going = true;
  const readers = Array.from({ length: READERS }, async (_, reader) => {
    for (let i = reader; going; i++) {
      times.push(await timed(address + pages[i % pages.length], headers));
      await later(PAUSE);
    }
  });
  const began = performance.now();
  await work();
  const took = performance.now() - began;
  going = false;
  await Promise.all(readers);
  return { times: times.sort((a, b) => a - b), took };
}

async function timed(url: string, headers: Record<string, string>): Promise<number> {
  const began = performance.now();
  const response = await fetch(url, { headers, redirect: "manual" });
  await response.arrayBuffer();
  return performance.now() - began;
}

function lines(file: number, edition: number): string {
  return Array.from({ length: 200 }, (_, i) => `const berth${file}_${i} = ${i % 7 === 0 ? edition : i};\n`).join("");
}

async function commit(folder: string, message: string): Promise<void> {
  await git(folder, "add", "--all");
  await git(folder, "-c", "user.name=A", "-c", "user.email=a@x.example", "commit", "--quiet", "-m", message);
}

function git(folder: string, ...args: string[]): Promise<void> {
  const env = { ...process.env, GIT_CONFIG_GLOBAL: "/dev/null", GIT_CONFIG_NOSYSTEM: "1", GIT_TERMINAL_PROMPT: "0" };
  const child = spawn("git", ["-C", folder, ...args], { env, stdio: ["ignore", "ignore", "inherit"] });
  return new Promise((resolve, reject) =>
    child.on("close", (code) => (code === 0 ? resolve() : reject(new Error(`git ${args[0]} ended with ${code}.`)))),
  );
}

function at(sorted: readonly number[], share: number): string {
  return (sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0).toFixed(0);
}

function later(milliseconds: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, milliseconds));
}
