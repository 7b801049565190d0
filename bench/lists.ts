import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Served, serve } from "~/tests/served";
import { makeFullHouse } from "./full-house";
import { signIn } from "./parts";

/** So many change sets are open in the small house and in the large one. */
const HOUSES = [100, 10_000];
const TIMES = 15;
/** What the large house may take, as a multiple of the small one. */
const BAR = 2;

const ASKED: { name: string; path: string }[] = [
  { name: "the desk", path: "/" },
  { name: "a page of a list", path: "/lists?q=state%3Aopen" },
  { name: "a list by words", path: `/api/changes?query=${encodeURIComponent("offer small")}` },
  { name: "anything by its words", path: "/api/find?words=small-77" },
  { name: "a small change set", path: "/r/quay/c/1" },
];

/** How long the desk, lists and a change set take with many change sets beside few. Needs `npm run build`; `kept` is a folder that stays. */
export async function lists(say: (words: string) => void, kept?: string): Promise<number> {
  const root = process.env.LENS_ROOT ?? process.cwd();
  process.env.LENS_LOG = "error";
  const folder = kept ?? mkdtempSync(join(tmpdir(), "lens-lists-"));
  let server: Served | null = null;
  const took: number[][] = [];
  try {
    for (const open of HOUSES) {
      const house = join(folder, String(open));
      if (!existsSync(join(house, "data"))) {
        say(`Making ${open} change sets …`);
        await makeFullHouse(house, root, open, 100);
      }
      server = await serve(join(house, "data"));
      const { address } = server;
      const headers = { cookie: await signIn(address) };
      took.push([]);
      for (const { path } of ASKED) took.at(-1)!.push(await median(address + path, headers));
      await server.stop();
    }
  } finally {
    await server?.stop();
    if (!kept) rmSync(folder, { recursive: true, force: true });
  }
  let fails = 0;
  for (const [i, { name }] of ASKED.entries()) {
    const [few, many] = [took[0][i], took[1][i]];
    if (many / few > BAR) fails++;
    console.log(
      `${name.padEnd(24)} ${few.toFixed(0).padStart(5)} ms with ${HOUSES[0]}, ${many.toFixed(0).padStart(5)} ms with ${HOUSES[1]}: ${(many / few).toFixed(2)} (bar ${BAR})${many / few > BAR ? "  ABOVE" : ""}`,
    );
  }
  return fails > 0 ? 1 : 0;
}

/** How long an answer takes in the middle, in milliseconds, once what can be kept is kept. */
async function median(address: string, headers: Record<string, string>): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < TIMES + 3; i++) {
    const begun = performance.now();
    const response = await fetch(address, { headers });
    await response.arrayBuffer();
    if (!response.ok) throw new Error(`${address} was answered with ${response.status}.`);
    if (i >= 3) times.push(performance.now() - begun);
  }
  return times.sort((a, b) => a - b)[times.length >> 1];
}
