import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { afterAll, beforeAll, expect, it } from "vitest";
import { House, type Visitor } from "./house";

/** Every page, sheet and state is held to the rules of axe-core, WCAG 2.2 AA among them, on paper and at night. */

const AXE = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

let house: House;
let mirela: Visitor;
beforeAll(async () => {
  house = await House.toRead();
  mirela = await house.visitor();
});
afterAll(() => house.close());

interface Axe {
  run: (
    on: Document,
    options: object,
  ) => Promise<{ violations: { id: string; nodes: { html: string; any: { message: string }[] }[] }[] }>;
}

/** These two have to be asked for. */
const RULES = { rules: { "label-content-name-mismatch": { enabled: true }, "target-size": { enabled: true } } };
/** What is wrong with what the page shows now, each as a line. */
async function wrong(): Promise<string[]> {
  await mirela.calm();
  await mirela.page.evaluate(AXE);
  return [...(await wrongOn("paper")), ...(await wrongOn("night"))];
}

/** The same page, as it is drawn on either: only its colours are others. */
async function wrongOn(theme: "paper" | "night"): Promise<string[]> {
  return mirela.page.evaluate(
    async (named, asked) => {
      document.documentElement.dataset.theme = named;
      // A colour that is on its way to another is none to be judged.
      await Promise.all(document.getAnimations().map((one) => one.finished.catch(() => null)));
      const { violations } = await (window as unknown as { axe: Axe }).axe.run(document, asked);
      return violations.flatMap(({ id, nodes }) =>
        nodes.map(({ html, any }) => `${named}: ${id}: ${html.slice(0, 120)} ${any[0]?.message ?? ""}`),
      );
    },
    theme,
    RULES,
  );
}

const HOLD = "/r/berth-planner/c/3?file=plan/hold.ts";
const PAGES: [path: string, says: string][] = [
  ["/", "Mirela’s desk"],
  ["/lists?q=state%3Agoing", "change sets."],
  ["/lists?q=colour%3Ared", "is no word of a query"],
  ["/notices", "Mark all read"],
  ["/r/berth-planner", "Clone it"],
  ["/r/berth-planner/rules", "main"],
  ["/r/tide-tables/rules", "waits for a second keeper"],
  ["/r/berth-planner/work", "Work items"],
  ["/r/berth-planner/open", "Open a change set"],
  ["/tokens", "Tokens for git"],
  ["/keeping", "Accounts"],
  ["/keeping?tab=repositories", "Take a repository in"],
  ["/keeping?tab=house", "Send me a test message"],
  ["/keeping/hooks", "Tell another address"],
  ["/keeping/neighbours", "Ask another server"],
  ["/join", "You were invited"],
  ["/r/berth-planner/hooks", "Tell another address"],
  ["/r/berth-planner/labels", "Another label"],
  ["/r/berth-planner/times", "What hangs on one person?"],
  ["/times", "How long do others wait for you?"],
  ["/mail", "Mail"],
  ["/people/anders", "Open change sets"],
  ["/api", "What can be asked of this server"],
  ["/nowhere", "There is nothing here that you may see"],
  ["/r/berth-planner/c/3", "Why"],
  [HOLD, "HoldRefused"],
  ["/r/berth-planner/c/3?file=plan/board.ts", "releaseExpired"],
  ["/r/tide-tables/c/2?file=viewer/show.js", "wallPanel"],
];
/** What is opened over a page, or beside it, by which keys. */
const STATES: [path: string, keys: string, says: string][] = [
  [HOLD, "?", "go to the next line"],
  [HOLD, "/", "Two characters at least"],
  [HOLD, "s", "Send the review"],
  [HOLD, "j", "Revisions"],
  [HOLD, "'", "touched by the change"],
  [HOLD, "#", "came to be"],
  [HOLD, "y", "close"],
  [HOLD, ".", "other place"],
  ["/r/tide-tables/c/3?file=data/gauges.csv", "-", "Cell by cell"],
  ["/r/tide-tables/c/3?file=data/feed.json", "-", "whatever the order of keys"],
  ["/r/tide-tables/c/3?file=tides/feed.py", "*", "2026-11-22"],
  // Last, since the browser remembers it.
  [HOLD, "<", "»"],
];

it("holds on the page that asks who one is", async () => {
  await mirela.go("/sign-in");
  await mirela.see("Sign in");
  expect(await wrong()).toEqual([]);
  await mirela.signIn("mirela");
});

it.each(PAGES)("holds on %s", async (path, says) => {
  await mirela.go(path);
  await mirela.see(says);
  expect(await wrong()).toEqual([]);
});

it.each(STATES)("holds on %s after %s", async (path, keys, says) => {
  await mirela.go(path);
  await mirela.page.waitForSelector(".row-added");
  if (keys === "*") await mirela.page.keyboard.press("k");
  await mirela.page.keyboard.type(keys);
  await mirela.see(says);
  expect(await wrong()).toEqual([]);
});

it("would find what is hard to read at night", async () => {
  await mirela.page.setCookie({ name: "lens_theme", value: "night", url: house.address });
  await mirela.go("/notices");
  await mirela.see("Mark all read");
  expect(await mirela.page.evaluate(() => document.documentElement.dataset.theme)).toBe("night");
  expect(await wrong()).toEqual([]);
  await mirela.page.evaluate(() => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(':root[data-theme="night"] main * { color: #333 !important; }');
    document.adoptedStyleSheets = [sheet];
  });
  expect((await wrong()).filter((one) => /^night: color-contrast/.test(one)).length).toBeGreaterThan(0);
});
