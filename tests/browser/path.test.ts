import { execFileSync } from "node:child_process";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

const CHANGE = "/r/berth-planner/c/4";
const API = "/api/repos/berth-planner/changes/4";

let house: House;
let rosa: Visitor;
let anders: Visitor;
let mirela: Visitor;

beforeAll(async () => {
  house = await House.open();
  [rosa, anders, mirela] = await Promise.all([house.visitor(), house.visitor(), house.visitor()]);
});
afterAll(() => house?.close());

describe("the whole path", () => {
  it("signs in, and not with a wrong password", async () => {
    await rosa.go("/");
    await rosa.see("This is the demo");
    await rosa.page.type('input[name="name"]', "rosa");
    await rosa.page.type('input[name="password"]', "not this one");
    await rosa.press("Sign in");
    await rosa.see("Name and password do not match.");
    await rosa.signInByForm("rosa");
    await rosa.see("Waits for you");
    await rosa.see("Call a slot a berth");
  });

  it("reads by keyboard, and what was read stays read", async () => {
    await rosa.press("Call a slot a berth");
    await rosa.see("Begin to read");
    await rosa.key("f");
    await rosa.see("README.md");
    await rosa.see("0 of 6 files");
    // The key is that of a file whose lines are there.
    await rosa.see("read and next");
    // That the file was looked at is told by itself, and may be answered just now.
    const kept = rosa.page.waitForResponse(
      (response) => response.url().endsWith("/read-marks") && !!response.request().postData()?.includes('"read":true'),
    );
    await rosa.key("m");
    await rosa.see("1 of 6 files");
    await kept;
    await rosa.reload();
    await rosa.see("1 of 6 files");
    await rosa.see("Read · 1");
  });

  it("folds what needs no reading, says what it is, and shows it raw by one key", async () => {
    await rosa.go("/r/berth-planner/c/5?file=plan/overlap.ts");
    // One of them says that a file has another name now.
    await rosa.see("12 lines to read in 3 files");
    await rosa.see("5 lines from plan/window.ts, 11 to 17, 1 line of it edited");
    await rosa.see("changed in all");
    await rosa.see("lockfile");
    expect(await rosa.text()).not.toContain("function contains");
    await rosa.key("v");
    await rosa.see("function contains");
    await rosa.key("v");
    await rosa.press("the other end");
    await rosa.see("function closesAt");
    await rosa.go("/r/berth-planner/c/5?file=docs/holds.md");
    await rosa.see("It was holding.md and is holds.md");
  });

  it("remarks on a line; the remark survives a reload and nobody else sees it", async () => {
    await rosa.go(`${CHANGE}?file=plan/board.ts`);
    await rosa.page.waitForSelector(".row-added");
    // Where nothing is said, the code has the room; in one column a remark has some beside it.
    await rosa.key("k");
    await rosa.page.waitForFunction(() => !document.querySelector(".half"));
    const margin = () => rosa.page.$eval('aside[aria-label="Remarks"]', (aside) => aside.clientWidth);
    expect(await margin()).toBeLessThan(40);
    await rosa.key("d");
    await rosa.key("w");
    await rosa.page.waitForSelector('textarea[aria-label="Your remark, in Markdown"]:focus');
    expect(await margin()).toBeGreaterThan(250);
    await rosa.write("Is `BerthHold` still the right name then?");
    await rosa.see("kept");
    await rosa.key("Escape");
    await rosa.see("1 unsent");
    await rosa.reload();
    await rosa.see("still the right name then?");
    await anders.signIn("anders");
    await anders.go(`${CHANGE}?file=plan/board.ts`);
    await anders.page.waitForSelector(".row-added");
    expect(await anders.text()).not.toMatch(/still the right name|unsent/);
  });

  it("requests changes; the author sees the thread beside the line and replies", async () => {
    await rosa.key("s");
    await rosa.page.waitForSelector('[role="dialog"]');
    await rosa.page.click('[role="dialog"] .button-main');
    await rosa.see("Choose a verdict first.");
    await rosa.page.click('input[value="request-changes"]');
    await rosa.page.click('[role="dialog"] .button-main');
    await rosa.see("Sent: 1 remark and your request for changes.");
    await anders.reload();
    await anders.see("still the right name then?");
    await anders.see("1 of 5 conditions met");
    await anders.key("t");
    await anders.key("r");
    await anders.page.waitForSelector('textarea[aria-label="Your reply, in Markdown"]');
    await anders.write("Yes: it holds a berth.");
    await anders.page.click("article[data-thread] .button");
    await anders.page.waitForSelector('textarea[aria-label="Your reply, in Markdown"]', { hidden: true });
    await anders.see("Yes: it holds a berth.");
  });

  it("is not offered to, and refused to, those who may not", async () => {
    await anders.key("s");
    await anders.page.waitForSelector('[role="dialog"]');
    await anders.see("This is your own change set");
    expect(await anders.page.$eval('input[value="approve"]', (input) => (input as HTMLInputElement).disabled)).toBe(
      true,
    );
    await anders.key("Escape");
    const approve = { kind: "send-review", revision: 1, verdict: "approve", remark: "" };
    expect(await anders.ask("POST", API, approve)).toMatchObject({
      status: 403,
      reason: expect.stringMatching(/your own change set/),
    });
    const pim = await house.visitor();
    await pim.signIn("pim");
    await pim.go(CHANGE);
    await pim.see("Only a keeper of this repository or the author");
    expect(await pim.text()).not.toMatch(/Merge r1 …/);
    expect(await pim.ask("POST", API, approve)).toMatchObject({
      status: 403,
      reason: expect.stringMatching(/As a reader/),
    });
    expect(await pim.ask("POST", API, { kind: "merge", revision: 1, message: "m" })).toMatchObject({ status: 403 });
    expect(await pim.ask("POST", API, { kind: "launch" })).toMatchObject({ status: 422 });
    expect(await pim.ask("GET", "/api/repos/nowhere/changes/1")).toMatchObject({ status: 404 });
    const stranger = await house.visitor();
    await stranger.go("/sign-in");
    expect(await stranger.ask("GET", API)).toMatchObject({ status: 401 });
    expect(await stranger.ask("POST", "/api/sign-in/demo", { name: "nobody" })).toMatchObject({ status: 403 });
  });

  it("resolves and approves as the reviewer, merges as the keeper, and git shows it", async () => {
    await rosa.reload();
    await rosa.see("Yes: it holds a berth.");
    await rosa.key("t");
    await rosa.key("x");
    await rosa.see("resolved at r1 by you");
    await rosa.key("s");
    await rosa.page.waitForSelector('[role="dialog"]');
    // What comes once something is chosen moves nothing that is about to be pressed.
    const place = () => rosa.page.$eval('[role="dialog"] .button-main', (send) => send.getBoundingClientRect().y);
    const before = await place();
    await rosa.page.click('input[value="approve"]');
    await rosa.see("You have marked 2 of 18 lines read.");
    expect(await place()).toBe(before);
    await rosa.page.click('[role="dialog"] .button-main');
    await rosa.see("4 of 5 conditions met");
    await rosa.see("A steward of data/** must agree: data/quays.ts.");
    await mirela.signIn("mirela");
    await mirela.go(CHANGE);
    const agree = { kind: "send-review", revision: 1, verdict: "approve", remark: "" };
    expect(await mirela.ask("POST", API, agree)).toMatchObject({ status: 200 });
    await mirela.go("/");
    await mirela.see("The gate is met: you could merge it.");
    await mirela.go(CHANGE);
    await mirela.press("Merge r1");
    await mirela.page.waitForSelector('textarea[name="message"]');
    await mirela.page.click('textarea[name="message"]', { count: 3 });
    await mirela.page.$eval('textarea[name="message"]', (field) =>
      (field as HTMLTextAreaElement).setSelectionRange(0, 99_999),
    );
    await mirela.write("Say berth everywhere\n\nAgreed at the quay.");
    await mirela.page.click('[role="dialog"] .button-main');
    await mirela.see("Merged by you");
    const [repository] = readdirSync(join(house.folder, "data/repositories")).filter((name) => {
      const heads = git(join(house.folder, "data/repositories", name), "branch", "--list", "slot-to-berth");
      return heads !== "";
    });
    const clone = join(house.folder, "clone");
    git(house.folder, "clone", "--quiet", join(house.folder, "data/repositories", repository), clone);
    expect(git(clone, "log", "-1", "--format=%an|%B")).toBe(
      "Mirela Dobrev|Say berth everywhere\n\nAgreed at the quay.",
    );
    expect(git(clone, "rev-parse", "HEAD^2")).toBe(git(clone, "rev-parse", "origin/slot-to-berth"));
  });

  it("opens a change set from a branch, and refuses one that makes no sense before it is asked for", async () => {
    await anders.go("/r/berth-planner");
    await anders.press("Open a change set");
    await anders.page.waitForSelector('select[name="source"]');
    await anders.page.select('select[name="source"]', "pilot-hold");
    await anders.see("Change set 3 is already open from pilot-hold into main.");
    await anders.page.select('select[name="source"]', "tide-in-feet");
    await anders.see("Heights in feet beside metres");
    await anders.page.type(
      'textarea[name="description"]',
      "<script>alert(1)</script> [x](javascript:alert(1)) **bold**",
    );
    await anders.press("Open the change set");
    await anders.see("change set 10");
    expect(await anders.page.$$eval("main script, main a[href^='javascript']", (found) => found.length)).toBe(0);
  });

  it("had no error in any page", () => {
    expect([...rosa.errors, ...anders.errors, ...mirela.errors]).toEqual([]);
  });
});

function git(folder: string, ...args: string[]): string {
  return execFileSync("git", ["-C", folder, ...args], { env: { ...process.env, GIT_CONFIG_GLOBAL: "/dev/null" } })
    .toString()
    .trim();
}
