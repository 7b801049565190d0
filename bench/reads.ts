import { existsSync, mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Served, serve, start } from "~/tests/served";
import { bareCommand, buildBare } from "./bare";
import { FULL, LARGE, makeFullHouse } from "./full-house";
import { memoryOf, signIn } from "./parts";

const READERS = 10;
/** How long an address is asked for at a stretch, in milliseconds, and how often: in turn with the bare one, since the machine's speed changes while it is measured. */
const FOR = 1_500;
const TURNS = 4;

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
  let plain: Served | null = null;
  try {
    const bare = join(folder, "bare");
    if (!existsSync(bare)) {
      say(`Making ${FULL} change sets, and one of ${LARGE} files …`);
      await makeFullHouse(folder, root);
      say("Building the bare application …");
      mkdirSync(bare);
      buildBare(bare, root);
    }
    plain = await start(bareCommand(root, 4395), bare, { port: 4395 });
    server = await serve(join(folder, "data"));
    const besides = { route: `${plain.address}/api/one`, page: `${plain.address}/` };
    const headers = { cookie: await signIn(server.address) };
    let fails = 0;
    for (const { name, path, beside, bar } of ASKED) {
      const many = { own: 0, bare: 0 };
      await asked(server.address + path, headers, FOR / 3);
      await asked(besides[beside], {}, FOR / 3);
      for (let turn = 0; turn < TURNS; turn++) {
        many.bare += await asked(besides[beside], {}, FOR);
        many.own += await asked(server.address + path, headers, FOR);
      }
      const share = many.own / many.bare;
      if (share < bar) fails++;
      const [own, other] = [many.own, many.bare].map((one) => (one / TURNS).toFixed(1).padStart(6));
      console.log(
        `${name.padEnd(34)} ${own} a second, the bare ${beside} ${other}: ${share.toFixed(2)} (bar ${bar})${share < bar ? "  BELOW" : ""}, ${Math.round(memoryOf(server.process) / (1 << 20))} MB`,
      );
    }
    return fails > 0 ? 1 : 0;
  } finally {
    await server?.stop();
    await plain?.stop();
    if (!kept) rmSync(folder, { recursive: true, force: true });
  }
}

/** Answers a second to ten readers who each ask again at once. */
async function asked(address: string, headers: Record<string, string>, time: number): Promise<number> {
  const begun = performance.now();
  const until = begun + time;
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
