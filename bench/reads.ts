import type { ChildProcess } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Served, serve, start } from "~/tests/served";
import { bareCommand, buildBare } from "./bare";
import { FULL, LARGE, makeFullHouse, signIn } from "./full-house";

const READERS = 10;
/** How long each address is asked for, in milliseconds. */
const FOR = 6_000;

/** What is asked, what it is held against, and the share of that it is to reach. */
const ASKED: { name: string; path: string; beside: "route" | "page"; bar: number }[] = [
  { name: "/api/health", path: "/api/health", beside: "route", bar: 0.9 },
  { name: "the view of a small change set", path: "/api/repos/quay/changes/1", beside: "route", bar: 0.5 },
  { name: "its page", path: "/r/quay/c/1", beside: "page", bar: 0.5 },
  { name: `the desk of ${FULL}`, path: "/", beside: "page", bar: 0.35 },
  { name: `the page of ${LARGE} files`, path: "/r/quay/c/2", beside: "page", bar: 0.1 },
];

/**
 * Ten readers at once, beside a bare application of the same framework that is built and run here: answers a second, and the share of
 * the bare one. Needs `npm run build`. `kept` is a folder in which what is made stays for the next time.
 */
export async function reads(say: (words: string) => void, kept?: string): Promise<number> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  process.env.LENS_LOG = "error";
  const folder = kept ?? mkdtempSync(join(tmpdir(), "lens-reads-"));
  let server: Served | null = null;
  try {
    const bare = join(folder, "bare");
    if (!existsSync(bare)) {
      say(`Making ${FULL} change sets, and one of ${LARGE} files …`);
      await makeFullHouse(folder, root);
      say("Building the bare application …");
      mkdirSync(bare);
      buildBare(bare, root);
    }
    server = await start(bareCommand(root, 4395), bare, { port: 4395 });
    const route = await asked(`${server.address}/api/one`, {});
    const page = await asked(`${server.address}/`, {});
    await server.stop();
    server = await serve(join(folder, "data"));
    const { address } = server;
    const headers = { cookie: await signIn(address) };
    console.log(`bare route ${route.toFixed(0)} a second, bare page ${page.toFixed(0)} a second`);
    let fails = 0;
    for (const { name, path, beside, bar } of ASKED) {
      for (let i = 0; i < 3; i++) await (await fetch(address + path, { headers })).arrayBuffer();
      const many = await asked(address + path, headers);
      const share = many / (beside === "route" ? route : page);
      if (share < bar) fails++;
      console.log(
        `${name.padEnd(34)} ${many.toFixed(1).padStart(7)} a second, ${share.toFixed(2)} of the bare ${beside} (bar ${bar})${share < bar ? "  BELOW" : ""}, ${memory(server.process)} MB`,
      );
    }
    return fails > 0 ? 1 : 0;
  } finally {
    await server?.stop();
    if (!kept) rmSync(folder, { recursive: true, force: true });
  }
}

/** Answers a second to ten readers who each ask again at once. */
async function asked(address: string, headers: Record<string, string>): Promise<number> {
  const begun = performance.now();
  const until = begun + FOR;
  let answers = 0;
  await Promise.all(
    Array.from({ length: READERS }, async () => {
      while (performance.now() < until) {
        const response = await fetch(address, { headers });
        if (!response.ok) throw new Error(`${address} was answered with ${response.status}.`);
        await response.arrayBuffer();
        answers++;
      }
    }),
  );
  return (answers / (performance.now() - begun)) * 1000;
}

/** Resident memory of a process, in MB. */
function memory({ pid }: ChildProcess): number {
  const [, kilobytes] = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8")) ?? [];
  return Math.round(Number(kilobytes ?? 0) / 1024);
}
