import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

const CHANGE = "/r/berth-planner/c/3";

let house: House;
let rosa: Visitor;
beforeAll(async () => {
  house = await House.open();
  rosa = await house.visitor();
});
afterAll(() => house?.close());

/** What has the focus: its kind, its label or words. */
const focused = () =>
  rosa.page.evaluate(() => {
    const at = document.activeElement;
    if (!at || at === document.body) return "the body";
    const name = at.getAttribute("aria-label") ?? at.textContent ?? "";
    return `${at.getAttribute("role") ?? at.tagName.toLowerCase()} ${name.trim().slice(0, 200)}`;
  });
/** Presses keys one after the other; after each of them something has to have the focus. */
async function keys(...pressed: Parameters<Visitor["key"]>[0][]): Promise<void> {
  for (const key of pressed) {
    await rosa.key(key);
    await settled(`after ${key}`);
  }
}
async function chord(modifier: "Control" | "Shift", key: Parameters<Visitor["key"]>[0]): Promise<void> {
  await rosa.page.keyboard.down(modifier);
  await rosa.key(key);
  await rosa.page.keyboard.up(modifier);
  await settled(`after ${modifier} ${key}`);
}
/** Whatever comes next has the focus within a moment, in what it was used for. */
async function settled(when: string): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, 150));
  await rosa.page
    .waitForFunction(() => document.activeElement !== document.body, { polling: 20, timeout: 2_000 })
    .catch(() => expect.fail(`The focus fell to the body ${when}.`));
}
/** Goes on by Tab until something of these words has the focus. */
async function tabTo(words: string, backwards = false): Promise<void> {
  for (let i = 0; i < 80; i++) {
    if (backwards) await rosa.page.keyboard.down("Shift");
    await rosa.key("Tab");
    if (backwards) await rosa.page.keyboard.up("Shift");
    if ((await focused()).includes(words)) return;
  }
  throw new Error(`Tab never came to “${words}”.`);
}
const focusIs = async (words: string) => {
  await rosa.page
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
    await rosa.go("/sign-in");
    await tabTo("input");
    await rosa.write("rosa");
    await rosa.key("Tab");
    await rosa.write("harbour-demo");
    await rosa.key("Enter");
    await rosa.see("’s desk");
    await rosa.go("/");
    await rosa.key("Tab");
    expect(await focused()).toBe("button Skip to what is read");
    await keys("Enter");
    expect(await focused()).toMatch(/^main/);
    await tabTo("berth-planner 3");
    await rosa.key("Enter");
    await rosa.see("Begin to read");
    await settled("on a page gone to");
  });

  it("reads: the row of the cursor has the focus, from file to file", async () => {
    await rosa.go(CHANGE);
    await rosa.key("Tab");
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
    await rosa.page.$eval('[data-testid="scroller"]', (scroller) => scroller.scrollTo(0, scroller.scrollHeight));
    await settled("after scrolling");
    expect(await focused()).toBe(row);
  });

  it("writes a remark, in which letters are letters", async () => {
    await keys("w");
    await focusIs("textarea Your remark");
    await rosa.write("EDIT this: X, S, M and B are letters here");
    await settled("while typing");
    await focusIs("textarea Your remark");
    await chord("Control", "Enter");
    await focusIs("edit");
    await keys("Enter");
    await focusIs("textarea Your remark");
    await rosa.write("!");
    expect(await rosa.page.evaluate(() => (document.activeElement as HTMLTextAreaElement).value)).toBe(
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
    await rosa.write("XES: this is answered");
    await chord("Control", "Enter");
    await rosa.see("XES: this is answered");
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

  it("edits title and description, and gives it up", async () => {
    await keys("b");
    await focusIs("main");
    await tabTo("it said something else before").catch(() => {});
    await rosa.go(CHANGE);
    await rosa.key("Tab");
    await keys("Enter");
  });

  it("sends the review, and goes back to the desk", async () => {
    await keys("s");
    await focusIs("textarea");
    await rosa.write("Nearly there, S and M.");
    await chord("Control", "Enter");
    await rosa.see("Choose a verdict first.");
    await focusIs("input");
    await keys("Space");
    await chord("Control", "Enter");
    await rosa.see("Sent: 1 remark");
    await settled("after sending");
    await tabTo("Desk", true);
    await rosa.key("Enter");
    await rosa.see("’s desk");
    await settled("on the desk");
  });

  it("had no error in its page", () => {
    expect(rosa.errors).toEqual([]);
  });
});
