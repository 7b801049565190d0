import { execFile } from "node:child_process";
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

let house: House;
let mirela: Visitor;
let anders: Visitor;
const PLACE = "/r/berth-planner/c/3";
const API = "/api/repos/berth-planner/changes/3";

beforeAll(async () => {
  house = await House.open();
  mirela = await house.visitor();
  await mirela.signIn("mirela");
  anders = await house.visitor();
  await anders.signIn("anders");
});
afterAll(() => house?.close());

/** Goes to a line and waits until keys would act on it. */
async function lineOf(who: Visitor, file: string, line: number): Promise<void> {
  await who.go(`${PLACE}?file=${file}&line=new:${line}`);
  await who.page.waitForFunction(
    (number) => document.querySelector(".row-cursor")?.textContent?.includes(String(number)),
    {},
    line,
  );
}

const typeInto = async (who: Visitor, selector: string, words: string) => {
  await who.page.waitForSelector(selector);
  await who.page.focus(selector);
  await who.write(words);
};
const kept = (who: Visitor) =>
  who.page.waitForFunction(() => [...document.querySelectorAll("[role=status]")].some((e) => e.textContent === "kept"));

describe("a review as its writer prepares it", () => {
  it("selects several lines by keys and suggests other text for them, in place", async () => {
    await lineOf(mirela, "plan/hold.ts", 33);
    await mirela.page.keyboard.down("Shift");
    await mirela.key("ArrowDown");
    await mirela.key("ArrowDown");
    await mirela.page.keyboard.up("Shift");
    expect(await mirela.page.$$eval(".row-selected", (rows) => rows.length)).toBe(3);
    await mirela.key("w");
    await typeInto(mirela, "textarea[aria-label^='Your remark']", "Say **which** window, @anders.");
    await mirela.see("lines 33 to 35");
    await mirela.press("suggest other text");
    await mirela.see("It changes nothing yet");
    const code = "textarea[aria-label^='Other text']";
    await mirela.page.focus(code);
    await mirela.page.keyboard.down("Control");
    await mirela.key("Home");
    await mirela.page.keyboard.up("Control");
    await mirela.key("End");
    await mirela.key("Enter");
    await mirela.write("// The desk reads this.");
    await mirela.page.waitForFunction(
      (field) => (document.querySelector(field) as HTMLTextAreaElement).value.includes("\n    // The desk reads this."),
      {},
      code,
    );
    await kept(mirela);
    await mirela.key("Escape");
    await mirela.see("send this one now");
  });

  it("keeps it on the server: in a second window it is there, and for nobody else", async () => {
    const page = await mirela.page.browserContext().newPage();
    await page.goto(`${house.address}${PLACE}?file=plan/hold.ts`, { waitUntil: "networkidle2" });
    await page.waitForSelector("[data-note]");
    expect(await page.$eval("[data-note]", (note) => (note as HTMLElement).innerText)).toContain("The desk reads this");
    const id = await page.$eval("[data-note]", (note) => note.getAttribute("data-note"));
    await page.close();
    await anders.go(PLACE);
    expect(await anders.page.$("[data-note]")).toBeNull();
    expect(await anders.page.content()).not.toContain("The desk reads this");
    expect((await anders.ask("DELETE", `${API}/unsent/${id}`)).status).toBe(404);
    const theft = { kind: "closing", body: "mine" };
    expect((await anders.ask("PUT", `${API}/unsent/${id}`, theft)).status).toBe(404);
    expect((await anders.ask("POST", API, { kind: "send-one", note: id })).reason).toMatch(/nothing to send/);
  });

  it("writes an aside on a file as a whole, one on the change set, and a task", async () => {
    await mirela.go(`${PLACE}?file=plan/board.ts`);
    await mirela.page.waitForSelector(".row-cursor");
    await mirela.page.keyboard.down("Shift");
    await mirela.key("w");
    await mirela.page.keyboard.up("Shift");
    await typeInto(mirela, "textarea[aria-label^='Your remark']", "This file grows.");
    await mirela.see("the file as a whole");
    await mirela.page.click("[data-note] button[title^='It has to be settled']");
    await kept(mirela);
    await mirela.key("Escape");
    await mirela.key("b");
    // What comes in late has come: it moves what is pressed.
    await mirela.see("Elsewhere in the code");
    await mirela.pressFor("Add a task", "input[aria-label='What is to be done']");
    await typeInto(mirela, "input[aria-label='What is to be done']", "Ring the pilots");
    await kept(mirela);
    await mirela.page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await mirela.key("s");
    await mirela.see("plan/board.ts, the file as a whole");
    await mirela.page.waitForSelector("[role=dialog] input[value='Ring the pilots']");
    await mirela.page.click("input[name=verdict][value=request-changes]");
    await mirela.see("2 requests for changes stand");
    await mirela.page.click("textarea[name=closing]");
    await mirela.write("Nearly there.");
    // What is mended at the last moment goes as it was mended.
    await mirela.page.focus("[role=dialog] input[value='Ring the pilots']");
    await mirela.key("End");
    await mirela.write(" today");
    await mirela.page.locator("::-p-xpath(//*[@role='dialog']//button[normalize-space()='Send'])").click();
    await mirela.see("Sent: 2 remarks, 1 task and your request for changes.");
    const { body } = await mirela.ask("GET", API);
    const { change, mine } = body as {
      change: { tasks: { body: string; done: unknown }[] };
      mine: { unsent: unknown[] };
    };
    expect(change.tasks.map((task) => [task.body, task.done])).toEqual([
      ["Tell the agents before this goes live", null],
      ["Ring the pilots today", null],
    ]);
    expect(mine.unsent).toEqual([]);
  });
});

describe("its answer, as the author gives it", () => {
  it("goes from one unanswered thread to the next, picks a suggestion, puts it back, and takes it", async () => {
    await anders.go(`${PLACE}?file=plan/hold.ts`);
    await anders.see("The desk reads this");
    await anders.calm();
    await anders.press("pick");
    await anders.see("Take 1 suggestion");
    await anders.press("picked: put it back");
    await anders.page.waitForFunction(() => !document.body.innerText.includes("Take 1 suggestion"));
    await anders.press("pick");
    await anders.see("Take 1 suggestion");
    await anders.reload();
    await anders.key("p");
    await anders.see("One commit on pilot-hold, which becomes r3.");
    await anders.press("Take them");
    await anders.see("r3 is there");
    await anders.go(`${PLACE}?file=plan/hold.ts`);
    await anders.see("resolved at r3 by you");
    await anders.see("// The desk reads this.");
  });

  it("edits with what was said before, deletes leaving a trace, and says thanks in one word", async () => {
    await anders.go(`${PLACE}?file=plan/board.ts`);
    await anders.see("This file grows.");
    await anders.page.evaluate(() => {
      const found = [...document.querySelectorAll("article[data-thread]")].find((e) =>
        e.textContent?.includes("This file grows."),
      );
      (found as HTMLElement).focus();
    });
    await anders.key("r");
    await typeInto(anders, "textarea[aria-label^='Your reply']", "It does.");
    await anders.press("Reply");
    await anders.see("It does.");
    const menu = async (words: string, item: string) => {
      await anders.page.evaluate((sought) => {
        const comment = [...document.querySelectorAll("article li")].find((e) => e.textContent?.includes(sought));
        comment?.querySelector<HTMLElement>("button[aria-label^='What to do']")?.focus();
      }, words);
      await anders.key("Enter");
      await anders.page.waitForSelector("[role=menuitem]");
      await anders.page.evaluate((sought) => {
        const items = [...document.querySelectorAll("[role=menuitem]")] as HTMLElement[];
        items.find((e) => e.innerText.includes(sought))?.click();
      }, item);
    };
    await menu("It does.", "edit");
    await typeInto(anders, "textarea[aria-label='The comment, in Markdown']", " A little.");
    await anders.press("Keep");
    await anders.see("edited");
    await anders.press("edited");
    await anders.see("Until");
    await menu("This file grows.", "thanks");
    await anders.see("thanks 1");
    await menu("It does.", "delete");
    await anders.press("yes, delete");
    await anders.see("deleted it");
    expect(await anders.text()).not.toContain("It does.");
  });

  it("ticks the task off, and the gate says so", async () => {
    await anders.go(PLACE);
    await anders.see("2 tasks of 2 still to do.");
    await anders.see("Ring the pilots today");
    await anders.page.evaluate(() => {
      const label = [...document.querySelectorAll("label")].find((e) => e.textContent?.includes("Ring the pilots"));
      label?.querySelector("input")?.click();
    });
    await anders.see("1 task of 2 still to do.");
  });

  it("hides the remarks to read the code in peace, and opens a file that did not change", async () => {
    await anders.go(`${PLACE}?file=plan/board.ts`);
    await anders.page.waitForSelector("article[data-thread]");
    await anders.key("h");
    await anders.page.waitForFunction(() => document.querySelector("article[data-thread]") === null);
    await anders.key("h");
    await anders.page.waitForSelector("article[data-thread]");
    await anders.page.keyboard.down("Control");
    await anders.key("k");
    await anders.page.keyboard.up("Control");
    await anders.page.waitForSelector("[cmdk-input]");
    await anders.write("instant.ts");
    await anders.see("Files that did not change");
    await anders.key("Enter");
    await anders.see("not changed here");
  });

  it("got one message for one review, which reads as text", async () => {
    await anders.go("/mail");
    await anders.see("Mirela Dobrev asks for changes in r2");
    await anders.press("Mirela Dobrev asks for changes in r2");
    await anders.see("Nearly there.");
    await anders.see("> ");
    const subjects = await anders.page.$$eval("nav[aria-label=Messages] li", (items) =>
      items.map((e) => e.textContent),
    );
    expect(subjects.filter((subject) => subject?.includes("asks for changes in r2"))).toHaveLength(1);
  });

  it("had no error in any page", () => {
    expect([...mirela.errors, ...anders.errors]).toEqual([]);
  });
});

describe("two at the same time", () => {
  it("see what the other sends without reloading, and nothing moves under the eye", async () => {
    await mirela.go(`${PLACE}?file=plan/hold.ts`);
    await mirela.page.waitForSelector(".row-cursor");
    const before = await mirela.page.$eval(".row-cursor", (row) => row.textContent);
    const [thread] = await anders.page.evaluate(async (api) => {
      const { change } = await (await fetch(api)).json();
      return change.threads.filter(
        (t: { resolved: unknown; anchor: { path?: string } }) => t.anchor.path === "plan/hold.ts",
      );
    }, API);
    await anders.ask("POST", API, { kind: "reply", thread: thread.id, body: "Said while you read." });
    await mirela.see("Anders Lindqvist answers.");
    expect(await mirela.page.$eval(".row-cursor", (row) => row.textContent)).toBe(before);
    expect(mirela.errors).toEqual([]);
  });

  it("push with a token made on its page, and the other is told of the new revision", async () => {
    await lineOf(mirela, "docs/holding.md", 4);
    await mirela.key("w");
    await typeInto(mirela, "textarea[aria-label^='Your remark']", "For how long?");
    await kept(mirela);
    await anders.go("/tokens");
    await typeInto(anders, "main input", "laptop");
    await anders.press("Make a token");
    await anders.page.waitForSelector("[data-testid=token]");
    const token = await anders.page.$eval("[data-testid=token]", (code) => code.textContent);
    const clone = cloned();
    const url = house.address.replace("://", `://anders:${token}@`);
    await git("clone", "--quiet", "--branch", "pilot-hold", `${url}/git/berth-planner.git`, clone);
    writeFileSync(join(clone, "docs/holding.md"), "# Holding\n\nAsk the desk.\n");
    await git("-C", clone, "commit", "--quiet", "--all", "-m", "Shorter");
    expect(await git("-C", clone, "push", "origin", "pilot-hold")).toMatch(/r4 of change set 3: http/);
    await mirela.see("r4 has come.");
    expect(await mirela.text()).toContain("All of r3");
    expect(await mirela.text()).not.toContain("since r3");
    // What she had not sent is there in the new revision too, with what has become of its line.
    await mirela.go(`${PLACE}?file=docs/holding.md`);
    await mirela.see("All of r4");
    await mirela.see("For how long?");
    await mirela.see("line 3: edited in r4, was 4 in r3");
    await expect(git("-C", clone, "push", "origin", "--force", "HEAD:main")).rejects.toThrow(/by a change set only/);
  });

  it("have hundreds of files on their way before the scripts of the page ask for them", async () => {
    const clone = cloned();
    await git("-C", clone, "switch", "--quiet", "-c", "buoys");
    mkdirSync(join(clone, "buoys"));
    for (let n = 0; n < 420; n++) writeFileSync(join(clone, `buoys/${n}.txt`), `a buoy, number ${n}\n`);
    await git("-C", clone, "add", "--all");
    await git("-C", clone, "commit", "--quiet", "-m", "All the buoys");
    const said = await git("-C", clone, "push", "-o", "title=All the buoys", "origin", "buoys");
    const [, address] = /https?:\/\/[^/]+(\/r\/berth-planner\/c\/\d+)/.exec(said) ?? [];
    const lists: string[] = [];
    mirela.page.on("request", (request) => {
      const url = new URL(request.url());
      if (url.pathname.endsWith("/reading") && ["path", "whole"].every((name) => !url.searchParams.has(name)))
        lists.push(request.resourceType());
    });
    await mirela.go(address);
    const listed = (path: string) => `nav[aria-label=Outline] button[title^="${path}:"]`;
    await mirela.page.waitForSelector(listed("buoys/0.txt"));
    // Asked for once, and not by a script.
    expect(lists).toEqual(["other"]);
    await mirela.page.click(listed("buoys/1.txt"));
    await mirela.see("a buoy, number 1");
    expect(mirela.errors).toEqual([]);
  });
});

const cloned = () => join(house.folder, "pushed");

/** Runs git as Anders does on his own machine; gives what it printed. */
function git(...args: string[]): Promise<string> {
  return new Promise((resolve, reject) =>
    execFile(
      "git",
      ["-c", "user.name=Anders", "-c", "user.email=anders@harbour.example", ...args],
      { env: { PATH: process.env.PATH, GIT_CONFIG_GLOBAL: "/dev/null", GIT_CONFIG_NOSYSTEM: "1", NODE_ENV: "test" } },
      (error, out, err) => (error ? reject(new Error(err)) : resolve(out + err)),
    ),
  );
}
