import { afterAll, beforeAll, expect, it } from "vitest";
import { House, type Visitor } from "./house";

let house: House;
let rosa: Visitor;

beforeAll(async () => {
  house = await House.open();
  rosa = await house.visitor();
  await rosa.signIn("rosa");
});
afterAll(() => house.close());

const until = (is: () => boolean) => rosa.page.waitForFunction(is, { polling: 100 });
const titles = () =>
  rosa.page.evaluate(() => [...document.querySelectorAll("main li a .line-title")].map((one) => one.textContent));

it("shows a list by writing what is to be in it, with what could come next", async () => {
  await rosa.go("/lists");
  await rosa.see("change sets.");
  await rosa.page.click("form input");
  await rosa.page.keyboard.type("by:an");
  await rosa.page.waitForSelector("[role=option]");
  await rosa.page.keyboard.press("ArrowDown");
  await rosa.page.keyboard.press("Enter");
  await rosa.page.keyboard.type("state:open in:tide-tables");
  await rosa.page.keyboard.press("Enter");
  await until(() => location.search.includes("by%3Aanders"));
  await rosa.see("1 change set.");
  expect(await titles()).toEqual(["The feed speaks in whole centimetres"]);
  await rosa.page.click("form input");
  await rosa.page.keyboard.type(" colour:red");
  await rosa.see("“colour:” is no word of a query");
  expect(rosa.errors).toEqual([]);
});

it("keeps a list under a name, on the desk with its count, and lets go of it with a way back", async () => {
  await rosa.go("/lists?q=in%3Atide-tables+state%3Aopen");
  await rosa.press("Keep as a list …");
  await rosa.page.waitForFunction(() => document.activeElement?.tagName === "INPUT", { polling: 100 });
  await rosa.page.keyboard.type("Tides");
  await rosa.page.keyboard.press("Enter");
  await rosa.see("Let go of this list");
  await rosa.go("/");
  await until(() => document.querySelector("aside a[title='in:tide-tables state:open']")?.textContent === "Tides3");
  await rosa.press("Tides");
  await rosa.see("Let go of this list");
  await rosa.press("Let go of this list");
  await rosa.see("“Tides” is no list any more");
  await rosa.press("“Tides” is no list any more: keep it after all");
  await rosa.see("Let go of this list");
  expect(rosa.errors).toEqual([]);
});

it("tells what happened that concerns one, is read by opening it or by one's word, and unread again", async () => {
  await rosa.go("/notices");
  await rosa.see("notices not read.");
  const group = () =>
    rosa.page.evaluate(
      () => document.querySelector("section[aria-label='Hold a berth until the pilot confirms']")?.textContent ?? "",
    );
  expect(await group()).toMatch(/Anders Lindqvist .*You were asked/s);
  expect(await group()).toContain("Mark read");
  // Opening it is reading what was told of it.
  const read = rosa.page.waitForResponse(
    (answer) => answer.url().endsWith("/api/notices") && answer.request().method() === "PUT",
  );
  await rosa.go("/r/berth-planner/c/3");
  await read;
  await rosa.go("/notices");
  await rosa.see("Hold a berth");
  expect(await group()).not.toContain("Mark read");
  await rosa.press("Mark all read");
  await rosa.see("All of it is read.");
  await rosa.press("undo");
  await rosa.see("not read.");
  expect(rosa.errors).toEqual([]);
});

it("goes to anything by its words from any page, and within a change set", async () => {
  await rosa.go("/");
  await rosa.page.keyboard.down("Control");
  await rosa.page.keyboard.press("k");
  await rosa.page.keyboard.up("Control");
  await rosa.page.waitForSelector("[role=dialog] input");
  await rosa.page.keyboard.type("centimet");
  await until(
    () => document.querySelector("[role=option][data-selected=true]")?.textContent?.startsWith("The feed") ?? false,
  );
  await rosa.page.keyboard.press("Enter");
  await until(() => location.pathname === "/r/tide-tables/c/3");
  await rosa.see("Half of the screens cannot show a fraction.");
  await rosa.page.keyboard.down("Control");
  await rosa.page.keyboard.press("k");
  await rosa.page.keyboard.up("Control");
  await rosa.page.waitForSelector("[role=dialog] input");
  await rosa.page.keyboard.type("sunday");
  await until(() =>
    [...document.querySelectorAll("[role=option]")].some((one) => one.textContent?.startsWith("Sunday Okoro")),
  );
  await rosa.page.keyboard.press("Escape");
  // Where one was is offered before anything is typed.
  await rosa.go("/tokens");
  await rosa.page.keyboard.down("Control");
  await rosa.page.keyboard.press("k");
  await rosa.page.keyboard.up("Control");
  await rosa.see("tide-tables 3, The feed speaks in whole centimetres");
  expect(rosa.errors).toEqual([]);
});
