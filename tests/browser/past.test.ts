import { afterAll, beforeAll, expect, it } from "vitest";
import { House, type Visitor } from "./house";

let house: House;
let rosa: Visitor;
const FEED = "/r/tide-tables/c/3?file=tides/feed.py";

beforeAll(async () => {
  house = await House.toRead();
  rosa = await house.visitor();
  await rosa.signIn("rosa");
});
afterAll(() => house.close());

const until = (is: () => boolean) => rosa.page.waitForFunction(is, { polling: 100 });

it("tells how a file came to be, through its rename, and opens each step", async () => {
  await rosa.go(FEED);
  await rosa.page.waitForSelector(".row-added");
  await rosa.page.keyboard.type("#");
  await rosa.see("renamed it from tides/wall.py");
  const steps = await rosa.page.evaluate(() =>
    [...document.querySelectorAll("[role=dialog] ol > li button[aria-expanded]")].map(({ textContent }) =>
      textContent?.slice(1),
    ),
  );
  expect(steps).toEqual([
    "The feed speaks in whole centimetres",
    "Say which low is meant",
    "The feed is more than the wall",
    "Low water is lower since the bar was dredged",
    "Tell the wall screen what the gauge reads",
  ]);
  await rosa.press("Say which low is meant");
  await until(() => document.querySelector("[role=dialog]")?.textContent?.includes("LOW_WATER = 0.4") ?? false);
  await rosa.page.keyboard.press("Escape");
  expect(rosa.errors).toEqual([]);
});

it("shows beside each line who wrote it, where a commit begins, and nobody beside what is gone", async () => {
  await rosa.go(FEED);
  await rosa.page.waitForSelector(".row-added");
  await rosa.page.keyboard.press("k");
  await rosa.page.keyboard.type("*");
  await rosa.page.waitForSelector(".who");
  await until(() => document.querySelector(".row-added .who")?.textContent !== "");
  const who = (look: string) => rosa.page.evaluate((name) => document.querySelector(`${name} .who`)?.textContent, look);
  expect(await who(".row-added")).toBe("2026-11-22 Anders Lindqvist");
  expect(await who(".row-removed")).toBe("");
  await rosa.page.keyboard.type("*");
  await until(() => document.querySelector(".who") === null);
  await rosa.page.keyboard.press("k");
});

it("goes to a part of the file by its name, and says what the change made of each", async () => {
  await rosa.go(FEED);
  await rosa.page.waitForSelector(".row-added");
  await rosa.page.keyboard.type("'");
  await rosa.see("3 parts; of all 3 are touched by the change.");
  await rosa.page.keyboard.type("is_low");
  await rosa.page.keyboard.press("Enter");
  await until(() => location.search.includes("new%3A11"));
  expect(rosa.errors).toEqual([]);
});

it("shows a table by its cells and data by its keys, with a key to and fro", async () => {
  await rosa.go("/r/tide-tables/c/3?file=data/gauges.csv");
  await rosa.page.waitForSelector(".row-added");
  await rosa.page.keyboard.type("-");
  await rosa.page.waitForSelector("td del");
  const offsets = await rosa.page.evaluate(() =>
    [...document.querySelectorAll("td del")].map((was) => `${was.textContent} > ${was.nextSibling?.textContent}`),
  );
  expect(offsets).toEqual(["0.12 > 12", "0.08 > 8", "0.31 > 30"]);
  await rosa.page.keyboard.type("-");
  await rosa.page.waitForSelector(".row-added .code");
  await rosa.go("/r/tide-tables/c/3?file=data/feed.json");
  await rosa.page.waitForSelector(".row-added");
  await rosa.page.keyboard.type("-");
  await rosa.see("screens › 1 › lines");
  await rosa.press("to line 11");
  await until(() => location.search.includes("new%3A11"));
  expect(rosa.errors).toEqual([]);
});

it("searches by an expression in all files, and says why one cannot be read", async () => {
  await rosa.go(FEED);
  await rosa.page.waitForSelector(".row-added");
  await rosa.page.keyboard.type("/");
  await rosa.page.waitForSelector("[role=dialog] input");
  await rosa.page.keyboard.type("read\\w+\\(at, h");
  await rosa.page.keyboard.press("Tab");
  await rosa.page.keyboard.press("Tab");
  await rosa.page.keyboard.down("Shift");
  await rosa.page.keyboard.press("Tab");
  await rosa.page.keyboard.press("Tab");
  await rosa.page.keyboard.up("Shift");
  await rosa.see("2 places in 1 file.");
  await rosa.page.keyboard.type("(");
  await rosa.see("This expression cannot be read");
  await rosa.page.keyboard.press("Escape");
});
