import { execFileSync } from "node:child_process";
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

/** From an empty installation to the first merge, by two people who never see a terminal of the server. */
let house: House;
let keeper: Visitor;
let guest: Visitor;
let word: string;
let bundle: string;

beforeAll(async () => {
  house = await House.open({ empty: true });
  word = /sign-in#(\S+)/.exec(house.said)![1];
  keeper = await house.visitor();
  guest = await house.visitor();
  const work = join(house.folder, "work");
  mkdirSync(work);
  const git = (...args: string[]) =>
    execFileSync("git", ["-C", work, "-c", "user.name=T", "-c", "user.email=t@x.example", ...args]);
  git("init", "--quiet", "--initial-branch=trunk");
  writeFileSync(join(work, "quay.txt"), "one berth\n");
  git("add", ".");
  git("commit", "--quiet", "-m", "A quay");
  git("checkout", "--quiet", "-b", "second-berth");
  writeFileSync(join(work, "quay.txt"), "one berth\nanother berth\n");
  git("commit", "--quiet", "-am", "A second berth");
  git("checkout", "--quiet", "trunk");
  bundle = join(house.folder, "quay.bundle");
  git("bundle", "create", "--quiet", bundle, "--all");
}, 120_000);
afterAll(() => house?.close());

async function fill(who: Visitor, fields: Record<string, string>): Promise<void> {
  for (const [name, value] of Object.entries(fields)) {
    await who.page.click(`input[name="${name}"]`, { count: 3 });
    await who.write(value);
  }
}

const ACCOUNT = { name: "ada", fullName: "Ada Brandt", email: "ada@x.example", password: "long enough" };

describe("an empty installation", () => {
  it("begins for who knows the word that the server printed, once", async () => {
    await keeper.go("/");
    await keeper.see("This installation is empty.");
    await fill(keeper, { word: "a guess", ...ACCOUNT });
    await keeper.press("Begin");
    await keeper.see("That is not the word that the server printed");
    await keeper.go(`/sign-in?again#${word}`);
    expect(await keeper.page.$('input[name="word"]')).toBeNull();
    await fill(keeper, ACCOUNT);
    await keeper.press("Begin");
    await keeper.see("Where it comes from");
    expect(await guest.page.goto(`${house.address}/sign-in`).then(() => guest.text())).not.toContain("empty");
    const again = await guest.ask("POST", "/api/first-start", { word, ...ACCOUNT, name: "eve" });
    expect(again).toMatchObject({ status: 409, reason: "This installation has begun already: sign in." });
  });

  it("takes a repository in from a bundle, and says why not where that cannot be", async () => {
    const choose = async (way: string, fields: Record<string, string>) => {
      await keeper.page.locator(`::-p-xpath(//label[contains(., "${way}")]/input)`).click();
      await fill(keeper, fields);
    };
    await choose("from an address", { name: "away", url: "http://127.0.0.1:9/nothing.git" });
    await keeper.press("Take it in");
    await keeper.see("was not taken in. It could not be reached");
    await keeper.press("Take a repository in …");
    await choose("from a bundle", { name: "quay" });
    const file = await keeper.page.$('input[type="file"]');
    await (file as import("puppeteer-core").ElementHandle<HTMLInputElement>).uploadFile(bundle);
    await keeper.press("Take it in");
    await keeper.see("is here. It has 2 branches.");
    await keeper.see("administrators only");
    await keeper.press("change");
    await keeper.page.type("label:has(+ label select) input", "Where the boats are");
    await keeper.page.locator('::-p-xpath(//button[normalize-space(.)="Change it"])').click();
    await keeper.see("quay is changed.");
    await keeper.see("Where the boats are · nothing open");
  });

  it("lets somebody in by a link, with the role that comes with it, once", async () => {
    await keeper.press("Accounts");
    await keeper.page.locator('::-p-xpath(//label[contains(., "For whom it is")]/input)').fill("Ben, of the pilots");
    await keeper.page.locator('section[aria-label="Invitations"] select').fill("contributor");
    await keeper.press("Make a link");
    await keeper.see("Send this to them");
    const link = await keeper.page.$eval('[data-testid="invite"]', (code) => code.textContent!);
    await guest.go(new URL(link).pathname + new URL(link).hash);
    await fill(guest, { name: "ben", fullName: "Ben Okoro", email: "ben@x.example", password: "long enough" });
    await guest.press("Come in");
    await guest.see("Ben’s desk");
    await guest.see("contributor");
    const invitation = new URL(link).hash.slice(1);
    const third = await keeper.ask("POST", "/api/join", { ...ACCOUNT, word: invitation, name: "cleo" });
    expect(third).toMatchObject({ status: 403 });
  });

  it("reaches the first merge", async () => {
    await guest.go("/r/quay/open?source=second-berth");
    await guest.see("A second berth");
    await guest.press("Open the change set");
    await guest.see("change set 1");
    const API = "/api/repos/quay/changes/1";
    await keeper.go("/r/quay/c/1");
    await keeper.see("0 of 1 approval of r1.");
    const agree = { kind: "send-review", revision: 1, verdict: "approve", remark: "" };
    expect(await keeper.ask("POST", API, agree)).toMatchObject({ status: 200 });
    await keeper.go("/r/quay/c/1");
    await keeper.press("Merge r1");
    await keeper.page.waitForSelector('textarea[name="message"]');
    await keeper.page.click('[role="dialog"] .button-main');
    await keeper.see("Merged by you");
  });

  it("deletes a repository when its name is typed, and brings it back", async () => {
    await keeper.go("/keeping?tab=repositories");
    await keeper.press("change");
    await keeper.press("delete …");
    const button = '::-p-xpath(//button[normalize-space(.)="Delete it"])';
    const typed = '::-p-xpath(//label[contains(., "Type its name")]/input)';
    await keeper.page.locator(typed).fill("qua");
    expect(await keeper.page.$eval(button, (one) => (one as HTMLButtonElement).disabled)).toBe(true);
    await keeper.page.locator(typed).fill("quay");
    await keeper.page.locator(button).click();
    await keeper.see("It can be brought back for 14 days.");
    expect(await guest.ask("GET", "/api/repos/quay/changes/1")).toMatchObject({ status: 404 });
    await keeper.press("bring back");
    await keeper.see("quay is back.");
    expect(await guest.ask("GET", "/api/repos/quay/changes/1")).toMatchObject({ status: 200 });
  });

  it("had no error in any page", () => {
    expect([...keeper.errors, ...guest.errors]).toEqual([]);
  });
});
