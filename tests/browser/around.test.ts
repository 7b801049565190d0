import { afterAll, beforeAll, expect, it } from "vitest";
import { House, type Visitor } from "./house";

let house: House;
let rosa: Visitor;

beforeAll(async () => {
  house = await House.toRead();
  rosa = await house.visitor();
  await rosa.signIn("rosa");
});
afterAll(() => house.close());

const keys = async (...names: string[]) => {
  for (const name of names) {
    await rosa.page.keyboard.press(name as "a");
    await rosa.page.evaluate(() => new Promise((resolve) => setTimeout(resolve, 60)));
  }
};
const panel = () =>
  rosa.page.evaluate(() => document.querySelector('[aria-label="What the name means"]')?.textContent ?? "");

it("goes from a name to where it is defined and back, and to a file that did not change", async () => {
  await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts&line=new:20");
  await rosa.see("readonly pilot");
  await keys(".", ".");
  await rosa.see("type, imported here");
  expect(await panel()).toMatch(/Pilot.*plan\/pilot\.ts 1.*3 other places in 1 file/s);
  // The name is marked in its line, though nothing of the line is drawn anew.
  const marked = () => rosa.page.evaluate(() => [...(CSS.highlights.get("chosen-name") ?? [])].map(String));
  expect(await marked()).toEqual(["Pilot"]);
  // It stays on its name as lines open above it.
  await rosa.page.keyboard.down("Shift");
  await keys("o");
  await rosa.page.keyboard.up("Shift");
  await rosa.see("only changes");
  expect(await marked()).toEqual(["Pilot"]);
  // The address says which it is, and leads whoever opens it there.
  expect(new URL(rosa.page.url()).search).toMatch(/line=new%3A20&name=Pilot$/);
  const other = await house.visitor();
  await other.signIn("anders");
  await other.go(new URL(rosa.page.url()).pathname + new URL(rosa.page.url()).search);
  await other.see("type, imported here");
  await keys(",");
  await rosa.page.waitForFunction(() => [...(CSS.highlights.get("chosen-name") ?? [])].map(String)[0] === "pilot");
  await keys(".");
  await rosa.see("type, imported here");
  await rosa.press("plan/pilot.ts 1");
  await rosa.page.waitForFunction(() => location.search.includes("pilot.ts"));
  await rosa.page.goBack();
  await rosa.page.waitForFunction(() => location.search.includes("hold.ts"));
  await rosa.see("readonly pilot");
  // The name that led away is asked about again.
  await rosa.page.waitForFunction(() => [...(CSS.highlights.get("chosen-name") ?? [])].map(String)[0] === "Pilot");
  // What its window is stands in a file that the change set leaves alone.
  await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts&line=new:18");
  await rosa.see("readonly window");
  await keys(".", ".");
  await rosa.see("plan/window.ts 4");
  await rosa.press("plan/window.ts 4");
  await rosa.see("export interface TideWindow");
  await keys(".", "Escape");
  expect(await panel()).toBe("");
  expect(rosa.errors).toEqual([]);
});

it("asks about the name under the pointer, with the control key held", async () => {
  await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts");
  await rosa.see("readonly pilot");
  const place = await rosa.page.evaluate(() => {
    const code = [...document.querySelectorAll(".code")].find((one) => one.textContent?.includes("isExpired"))!;
    const walker = document.createTreeWalker(code, NodeFilter.SHOW_TEXT);
    let node = walker.nextNode();
    while (node && !node.textContent?.includes("isExpired")) node = walker.nextNode();
    const range = document.createRange();
    const at = node!.textContent!.indexOf("isExpired");
    range.setStart(node!, at + 2);
    range.setEnd(node!, at + 4);
    const { x, y, width, height } = range.getBoundingClientRect();
    return { x: x + width / 2, y: y + height / 2 };
  });
  await rosa.page.keyboard.down("Control");
  await rosa.page.mouse.click(place.x, place.y);
  await rosa.page.keyboard.up("Control");
  await rosa.see("function in BerthHold, in this file");
  expect(await panel()).toContain("plan/board.ts");
});

it("tells how a line came to be, also one that the change set leaves alone", async () => {
  await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts&line=new:14");
  await rosa.see("export class BerthHold");
  await keys("y");
  await rosa.see("How it came to be");
  await rosa.see("Hold a berth for a ship");
  await keys("y");
});

it("finds words in all files, and names of the open one in the command field", async () => {
  await keys("/");
  await rosa.page.waitForSelector("[role=dialog] input");
  await rosa.page.keyboard.type("closesAt");
  await rosa.see("nowhere there");
  await keys("Tab", "Tab");
  await rosa.see("1 place in 1 file.");
  await keys("Enter");
  await rosa.see("export function closesAt");
  await rosa.page.keyboard.down("Control");
  await keys("k");
  await rosa.page.keyboard.up("Control");
  await rosa.page.waitForSelector("[role=dialog] input");
  await rosa.page.keyboard.type("overl");
  await rosa.see("In this file");
  await rosa.page.waitForFunction(
    () => document.querySelector('[role=option][data-selected="true"]')?.textContent?.startsWith("overlaps"),
    { polling: 100 },
  );
  await keys("Enter");
  await rosa.page.waitForFunction(() => location.search.includes("new%3A11"), { polling: 100 });
  expect(rosa.errors).toEqual([]);
});

it("draws a text in Markdown as it reads, with what changed, and leads to its lines", async () => {
  await rosa.go("/r/berth-planner/c/3?file=docs/holding.md");
  await rosa.page.waitForSelector(".row-added");
  await keys("-");
  await rosa.see("As it reads.");
  const drawn = () =>
    rosa.page.evaluate(() =>
      [...document.querySelectorAll("section[aria-label^='as it']")].map(
        (part) => `${part.getAttribute("aria-label")}: ${part.querySelector("li:nth-child(2)")?.textContent}`,
      ),
    );
  expect(await drawn()).toEqual([
    "as it was: The planner holds it for two hours.",
    "as it is now: The planner holds it for two hours, or until the pilot confirms.",
  ]);
  await rosa.press("to line 3");
  await rosa.page.waitForFunction(() => location.search.includes("old%3A3"), { polling: 100 });
  expect(await drawn()).toEqual([]);
});

it("says in the brief which uses of what changed are not in the change set, and goes there", async () => {
  await rosa.go("/r/berth-planner/c/9");
  await rosa.see("Elsewhere in the code");
  await rosa.see("is another value now, and 1 use of it is not in this change set");
  await rosa.press("tariff/waiting.ts 1");
  await rosa.page.waitForFunction(() => location.search.includes("waiting.ts"), { polling: 100 });
  await keys("b");
  await rosa.see("Elsewhere in the code");
  await rosa.page.evaluate(() => {
    const section = document.querySelector('[aria-label="Elsewhere in the code"]')!;
    [...section.querySelectorAll("button")].find(({ textContent }) => textContent === "hide")!.click();
  });
  await rosa.see("show 1 hint");
  expect(rosa.errors).toEqual([]);
});

it("is read on a screen of 320 pixels: nothing is cut off, and the list opens over what is read", async () => {
  await rosa.page.setViewport({ width: 320, height: 640 });
  try {
    await rosa.go("/r/berth-planner/c/3");
    await rosa.see("Hold a berth until the pilot confirms");
    const beyond = () =>
      rosa.page.evaluate(() =>
        [...document.querySelectorAll("header, footer, h1, h2, main p, footer button, header button")]
          .filter((one) => one.getClientRects().length > 0 && !one.closest(".sr-only, [role=grid]"))
          .filter((one) => one.getBoundingClientRect().right > window.innerWidth + 1)
          .map((one) => one.textContent?.slice(0, 40)),
      );
    expect(await beyond()).toEqual([]);
    await rosa.press("Brief, files and threads");
    await rosa.see("Close the list");
    await rosa.press("board.ts");
    await rosa.page.waitForSelector(".row-added");
    const closed = () =>
      rosa.page.waitForFunction(() => !document.querySelector("nav[aria-label=Outline]"), { polling: 100 });
    await closed();
    expect(await beyond()).toEqual([]);
    await rosa.press("Brief, files and threads");
    await rosa.press("Done in r2");
    await rosa.page.waitForFunction(() => location.search.includes("thread="), { polling: 100 });
    await closed();
    // What is read has most of the screen.
    const share = await rosa.page.$eval('[data-testid="scroller"]', (one) => one.clientHeight / window.innerHeight);
    expect(share).toBeGreaterThan(0.5);
    // The card that opened over the lines is there from edge to edge, and what is said has a line of its own.
    const card = await rosa.page.$eval("aside[aria-label=Remarks] .z-20", (one) => one.getBoundingClientRect().left);
    expect(card).toBeGreaterThanOrEqual(0);
    await keys("z");
    await rosa.see("Nothing is folded here");
    const said = await rosa.page.$eval("footer [role=status]", (one) => one.clientWidth / window.innerWidth);
    expect(said).toBeGreaterThan(0.8);
    await rosa.press("Send review");
    await rosa.see("Closing word");
    expect(await beyond()).toEqual([]);
  } finally {
    await rosa.page.setViewport({ width: 1280, height: 800 });
  }
});
