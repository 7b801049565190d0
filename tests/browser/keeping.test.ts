import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

/** Coming back to a change set, and what must be true before it merges: the screens for it, as people use them. */
let house: House;
let rosa: Visitor;
let anders: Visitor;
let mirela: Visitor;
const FAIR = "/r/berth-planner/c/7";
const API = `/api/repos/berth-planner/changes/7`;

beforeAll(async () => {
  house = await House.open();
  rosa = await house.visitor();
  anders = await house.visitor();
  mirela = await house.visitor();
  await rosa.signIn("rosa");
  await anders.signIn("anders");
  await mirela.signIn("mirela");
  await rosa.page.bringToFront();
}, 120_000);
afterAll(() => house.close());

describe("coming back", () => {
  it("finds on the desk who asks to look again, how much is new, and which lines were changed", async () => {
    await rosa.see("asks you to look again, at r3: 11 lines new to you.");
    await rosa.see("The lines of 2 threads of yours were changed: answered?");
  });

  it("shows each thread where its lines are now, and asks its writer whether it is answered", async () => {
    await rosa.go(`${FAIR}?from=read&to=r3&file=plan/urgency.ts`);
    await rosa.see("New to you in r3: 11 lines to read in 2 files.");
    await rosa.see("line 15: moved in r2, was 44 of plan/queue.ts in r1");
    await rosa.go(`${FAIR}?from=base&to=r3&file=plan/queue.ts`);
    await rosa.see("line 49: gone since r2");
    await rosa.see("Written about these lines, removed in r2");
    await rosa.see("Answered?");
    await rosa.press("yes, resolve");
    await rosa.see("resolved at r3 by you");
  });

  it("chooses any two revisions by keys, and the address says which", async () => {
    await rosa.key("j");
    await rosa.see("+22 −22 in 2 files, 11 to read");
    await rosa.see("nothing of the author’s");
    await rosa.key("ArrowDown");
    await rosa.key("Tab");
    await rosa.key("ArrowUp");
    await rosa.see("Read from r1 to r2");
    await rosa.key("Enter");
    await rosa.see("r1 to r2: 11 lines to read in 2 files.");
    expect(rosa.page.url()).toMatch(/from=r1&to=r2/);
  });

  it("brings a revision to a clone by one command", async () => {
    const token = await anders.ask("POST", "/api/tokens", { label: "clone" });
    const clone = join(house.folder, "clone");
    const env = { ...process.env, GIT_CONFIG_GLOBAL: "/dev/null", GIT_TERMINAL_PROMPT: "0" };
    const address = house.address.replace("http://", `http://anders:${(token.body as { token: string }).token}@`);
    execFileSync("git", ["clone", "--quiet", `${address}/git/berth-planner.git`, clone], { env });
    process.env.INIT_CWD = clone;
    expect(await house.lens("take", "7", "r2")).toBe(
      "r2 of change set 7, “Ships that were passed over come sooner”: checked out by itself.",
    );
    expect(execFileSync("git", ["-C", clone, "log", "-1", "--format=%s"]).toString()).toMatch(
      /^Urgency in a file of its own/,
    );
    await expect(house.lens("gate", "7")).rejects.toThrow(/The gate is not met/);
    expect(await house.lens("gate", "6")).toMatch(/met +1 approval of r1; main asks for 1\.[\s\S]*The gate is met\.$/);
    await expect(house.lens("take", "7", "r9")).rejects.toThrow(/has no r9: its newest revision is r3/);
    await expect(house.lens("take", "99")).rejects.toThrow(/There is no change set 99/);
    // So are lists, and what one has not read.
    expect(await house.lens("list", "by:me", "in:tide-tables")).toMatch(
      /tide-tables 3 {2}The feed speaks in whole centimetres\n {4}r1, open, by Anders Lindqvist\. [\s\S]*1 change set\.$/,
    );
    const lines = JSON.parse(await house.lens("list", "--json", "by:me", "whole centimetres"));
    expect(lines.map((line: { number: number }) => line.number)).toEqual([3]);
    await expect(house.lens("list", "colour:red")).rejects.toThrow(/“colour:” is no word of a query/);
    expect(await house.lens("notices")).toMatch(
      /berth-planner 7 {2}Ships that were passed over[\s\S]*notices not read\.$/,
    );
    delete process.env.INIT_CWD;
  });
});

describe("keeping", () => {
  it("lifts a request that is stale, with a reason on the record", async () => {
    await mirela.go(FAIR);
    await mirela.see("1 request for changes stands, made of an earlier revision.");
    await mirela.press("lift the request of Rosa Vance");
    await mirela.page.waitForSelector('input[name="reason"]');
    await mirela.write("She is at sea until Friday.");
    await mirela.press("Lift it");
    await mirela.see("lifted the request for changes of Rosa Vance");
    await mirela.see("Nobody’s request for changes stands.");
  });

  it("shows what checks found: in the brief, and beside the lines", async () => {
    await mirela.see("The check words failed on r3: 1 finding.");
    await mirela.see("tests named");
    await mirela.go(`${FAIR}?from=base&to=r3&file=plan/urgency.ts`);
    await mirela.see("Say what this number means: give it a name.");
  });

  it("links a reason that is found by its words", async () => {
    await anders.go(FAIR);
    await anders.press("Link a work item");
    await anders.page.waitForSelector('section[aria-label="Work items"] input');
    await anders.write("long ships");
    await anders.see("#103");
    await anders.press("Long ships wait for days");
    await anders.see("ends when this is merged");
    expect(await anders.ask("POST", API, { kind: "link", item: "103", closes: true })).toMatchObject({ status: 409 });
  });

  it("tries rules before they count, saves them with a word, and exports them", async () => {
    await anders.go("/r/berth-planner/rules");
    await anders.see("data/**: mirela must agree.");
    expect(await anders.text()).not.toContain("Add a rule");
    await mirela.go("/r/berth-planner/rules");
    await mirela.press("change");
    await mirela.press("Add stewards");
    await mirela.page.evaluate(() => {
      const legend = [...document.querySelectorAll("legend")].find((one) => one.textContent?.startsWith("Stewards"));
      const inputs = legend?.parentElement?.querySelectorAll("input") ?? [];
      (inputs[3] as HTMLInputElement).focus();
    });
    await mirela.write("plan/**");
    await mirela.key("Tab");
    await mirela.write("rosa");
    await mirela.press("Try them");
    await mirela.see("A steward of plan/** must agree");
    await mirela.page.type('input[name="note"]', "Rosa knows the plan.");
    await mirela.press("Save");
    await mirela.see("Saved. It counts from now on.");
    await mirela.see("Rosa knows the plan.");
    const rules = await mirela.ask("GET", "/api/repos/berth-planner/rules");
    expect(rules.body).toMatchObject({
      rules: [
        { branches: "main", stewards: [{ paths: "data/**" }, { paths: "plan/**", of: ["rosa"] }] },
        { branches: "**" },
      ],
    });
    expect(await anders.ask("PUT", "/api/repos/berth-planner/rules", { rules: { rules: [] } })).toMatchObject({
      status: 403,
    });
  });

  it("previews the merge, shows a conflict by place, and takes a draft only when it is ready", async () => {
    await mirela.go("/r/berth-planner/c/9");
    await mirela.see("It is a draft.");
    await mirela.press("It is ready");
    await mirela.see("0 of 1 approval of r1.");
    await mirela.press("Look at the merge");
    await mirela.see("r1 conflicts with main in 1 file: tariff/waiting.ts");
    await mirela.see("what main made of it");
    await mirela.key("Escape");
    await mirela.go("/r/berth-planner/c/6");
    await mirela.press("Merge r1");
    await mirela.see("afterwards, the newest first: 3 commits more");
    await mirela.page.$$eval('input[name="how"]', (ways) => (ways[1] as HTMLInputElement).click());
    await mirela.see("afterwards, the newest first: 1 commit more");
    const message = await mirela.page.$eval(
      'textarea[name="message"]',
      (field) => (field as HTMLTextAreaElement).value,
    );
    expect(message).toMatch(/^Waiting at night[\s\S]*Reviewed-by: Anders Lindqvist <anders@harbour\.example>/);
    // It is one commit of the author's own, who is not named beside themselves.
    expect(message).not.toContain("Co-authored-by: Sunday Okoro");
  });

  it("holds it against what is live", async () => {
    await anders.go("/r/berth-planner/c/3");
    await anders.page.waitForSelector('section[aria-label="Against what is live"] option[value="live"]');
    await anders.page.select('section[aria-label="Against what is live"] select', "live");
    await anders.see("changed there directly: that would be lost.");
    await anders.press("Read against live");
    await anders.see("r2 against live");
  });

  it("had no error in any page", () => {
    expect([...rosa.errors, ...anders.errors, ...mirela.errors]).toEqual([]);
  });
});
