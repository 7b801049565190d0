import type { HTTPRequest } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

const CHANGE = "/r/berth-planner/c/3";

let house: House;
/** Who is at the keyboard. */
let me: Visitor;
beforeAll(async () => {
  house = await House.open();
  me = await house.visitor();
});
afterAll(() => house?.close());

/** What has the focus: its kind, its label or words. */
const focused = () =>
  me.page.evaluate(() => {
    const at = document.activeElement;
    if (!at || at === document.body) return "the body";
    const name = at.getAttribute("aria-label") ?? at.textContent ?? "";
    return `${at.getAttribute("role") ?? at.tagName.toLowerCase()} ${name.trim().slice(0, 200)}`;
  });
/** Presses keys one after the other; after each of them something has to have the focus. */
async function keys(...pressed: Parameters<Visitor["key"]>[0][]): Promise<void> {
  for (const key of pressed) {
    await me.key(key);
    await settled(`after ${key}`);
  }
}
async function chord(modifier: "Control" | "Shift", key: Parameters<Visitor["key"]>[0]): Promise<void> {
  await me.page.keyboard.down(modifier);
  await me.key(key);
  await me.page.keyboard.up(modifier);
  await settled(`after ${modifier} ${key}`);
}
/** Whatever comes next has the focus within a moment, in what it was used for. */
async function settled(when: string): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, 150));
  await me.page
    .waitForFunction(() => document.activeElement !== document.body, { polling: 20, timeout: 2_000 })
    .catch(() => expect.fail(`The focus fell to the body ${when}.`));
}
/** Goes on by Tab until something of these words has the focus. */
async function tabTo(words: string, backwards = false): Promise<void> {
  for (let i = 0; i < 80; i++) {
    if (backwards) await me.page.keyboard.down("Shift");
    await me.key("Tab");
    if (backwards) await me.page.keyboard.up("Shift");
    if ((await focused()).includes(words)) return;
  }
  throw new Error(`Tab never came to “${words}”.`);
}
const focusIs = async (words: string) => {
  await me.page
    .waitForFunction(
      (sought) => {
        const at = document.activeElement;
        const name = at?.getAttribute("aria-label") ?? at?.textContent ?? "";
        return `${at?.getAttribute("role") ?? at?.tagName.toLowerCase()} ${name}`.includes(sought);
      },
      { polling: 50, timeout: 8_000 },
      words,
    )
    .catch(async () => expect(await focused()).toContain(words));
};

describe("a review by keyboard alone", () => {
  it("goes from signing in to the desk and into a change set", async () => {
    await me.go("/sign-in");
    await tabTo("input");
    await me.write("rosa");
    await me.key("Tab");
    await me.write("harbour-demo");
    await me.key("Enter");
    await me.see("’s desk");
    await me.go("/");
    await me.key("Tab");
    expect(await focused()).toBe("button Skip to what is read");
    await keys("Enter");
    expect(await focused()).toMatch(/^main/);
    await tabTo("berth-planner 3");
    await me.key("Enter");
    await me.see("Begin to read");
    await settled("on a page gone to");
  });

  it("reads what was asked for by a key while the page’s scripts were on their way", async () => {
    const page = await me.page.browserContext().newPage();
    await page.setRequestInterception(true);
    const waiting: HTTPRequest[] = [];
    const isScript = (request: HTTPRequest) => request.resourceType() === "script";
    let held = true;
    page.on("request", (request) => (held && isScript(request) ? waiting.push(request) : void request.continue()));
    // What is drawn at once waits for no script; the page as a whole does.
    const opened = page.goto(new URL(CHANGE, me.address).href);
    await page.waitForFunction(() => document.body?.innerText.includes("Begin to read"), { polling: 50 });
    await page.keyboard.press("f");
    held = false;
    for (const request of waiting) await request.continue();
    expect(waiting.length).toBeGreaterThan(0);
    await opened;
    await page.waitForFunction(() => location.search.includes("file="), { polling: 50 });
    await page.close();
  });

  it("reads: the row of the cursor has the focus, from file to file", async () => {
    await me.go(CHANGE);
    await me.key("Tab");
    await keys("Enter", "d");
    await focusIs("row");
    const first = await focused();
    await keys("ArrowDown");
    await focusIs("row");
    expect(await focused()).not.toBe(first);
    await keys("f", "d", "d");
    await focusIs("row");
    // However far one scrolls, the row stays, and the keys act on it.
    const row = await focused();
    await me.page.$eval('[data-testid="scroller"]', (scroller) => scroller.scrollTo(0, scroller.scrollHeight));
    await settled("after scrolling");
    expect(await focused()).toBe(row);
  });

  it("writes a remark, in which letters are letters", async () => {
    await keys("w");
    await focusIs("textarea Your remark");
    await me.write("EDIT this: X, S, M and B are letters here");
    await settled("while typing");
    await focusIs("textarea Your remark");
    await chord("Control", "Enter");
    await focusIs("edit");
    await keys("Enter");
    await focusIs("textarea Your remark");
    await me.write("!");
    expect(await me.page.evaluate(() => (document.activeElement as HTMLTextAreaElement).value)).toBe(
      "EDIT this: X, S, M and B are letters here!",
    );
    await keys("Escape", "d");
    await focusIs("row");
  });

  it("answers a thread, resolves it and opens it again", async () => {
    await keys("t");
    await focusIs("article Thread by");
    await keys("r");
    await focusIs("textarea Your reply");
    await me.write("XES: this is answered");
    await chord("Control", "Enter");
    await me.see("XES: this is answered");
    await focusIs("article Thread by");
    await keys("r", "Escape");
    await focusIs("article Thread by");
    await keys("d");
    await focusIs("row");
  });

  it("opens sheets and leaves them where it was", async () => {
    const row = await focused();
    for (const key of ["?", "/", "j"] as const) {
      await keys(key, "Escape");
      await focusIs("row");
    }
    await chord("Control", "k");
    await keys("Escape");
    await focusIs("row");
    expect(await focused()).toBe(row);
    await keys("h", "h", "o", "v", "v", "y", "y", "k", "k", "l", "l", "e");
    await focusIs("row");
    await keys("m", "n", "u");
  });

  it("sends the review, and goes back to the desk", async () => {
    await keys("b");
    await focusIs("main");
    await keys("s");
    await focusIs("textarea");
    await me.write("Nearly there, S and M.");
    await chord("Control", "Enter");
    await me.see("Choose a verdict first.");
    await focusIs("input");
    await keys("Space");
    await chord("Control", "Enter");
    await me.see("Sent: 1 remark");
    await settled("after sending");
    await tabTo("Desk", true);
    await me.key("Enter");
    await me.see("’s desk");
    await settled("on the desk");
  });

  it("edits title and description, and gives it up", async () => {
    const rosa = me;
    me = await house.visitor();
    await me.signIn("anders");
    await me.go(CHANGE);
    await me.key("Tab");
    await keys("Enter");
    await tabTo("edit title and description");
    await keys("Enter");
    await focusIs("input Title");
    const title = await me.page.$eval("input[aria-label=Title]", (field) => (field as HTMLInputElement).value);
    await me.write(", X and S");
    expect(await me.page.$eval("input[aria-label=Title]", (field) => (field as HTMLInputElement).value)).toBe(
      `${title}, X and S`,
    );
    await tabTo("cancel");
    await keys("Enter");
    await me.see("What you wrote is gone.");
    await focusIs("edit title and description");
    expect([rosa.errors, me.errors]).toEqual([[], []]);
  });
});
