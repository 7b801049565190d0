import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

const CHANGE = "/r/berth-planner/c/3";
const API = "/api/repos/berth-planner/changes/3";

let house: House;
let rosa: Visitor;
let anders: Visitor;
beforeAll(async () => {
  house = await House.open();
  [rosa, anders] = [await house.visitor(), await house.visitor()];
  await rosa.signIn("rosa");
  await anders.signIn("anders");
});
afterAll(() => house?.close());

const where = (visitor: Visitor) => visitor.page.evaluate(() => window.location.pathname + window.location.search);
const until = (visitor: Visitor, path: string) =>
  visitor.page.waitForFunction(
    (wanted) => window.location.pathname + window.location.search === wanted,
    { polling: 100 },
    path,
  );

describe("addresses", () => {
  it("are gone through by back and forward, and left only before the first", async () => {
    await anders.go("/r/berth-planner");
    await anders.go(CHANGE);
    await anders.see("Begin to read");
    await anders.key("f");
    await until(anders, `${CHANGE}?file=docs%2Fholding.md`);
    await anders.key("f");
    await until(anders, `${CHANGE}?file=plan%2Fpilot.ts`);
    await anders.page.goBack();
    await until(anders, `${CHANGE}?file=docs%2Fholding.md`);
    await anders.page.waitForSelector('section[aria-label="docs/holding.md"]');
    await anders.page.goForward();
    await anders.page.waitForSelector('section[aria-label="plan/pilot.ts"]');
    await anders.page.goBack();
    await anders.page.goBack();
    await anders.see("Begin to read");
    await anders.page.goBack();
    await until(anders, "/r/berth-planner");
  });

  it("that mails name all lead somewhere, and those of threads to the thread, whichever file it is in by now", async () => {
    await anders.go("/mail");
    const messages = await anders.page.$$eval("nav li a", (all) =>
      all.map(({ href }) => new URL(href)).map((url) => url.pathname + url.search),
    );
    const links = new Set<string>();
    for (const message of messages) {
      await anders.go(message);
      const text = await anders.page.$eval("main pre", (body) => body.textContent ?? "");
      for (const [link] of text.matchAll(/https?:\/\/\S+/g)) {
        const { pathname, search } = new URL(link);
        links.add(pathname + search);
      }
    }
    const threads = [...links].filter((link) => link.includes("thread="));
    expect([messages.length > 3, threads.length > 2]).toEqual([true, true]);
    for (const link of links) {
      await anders.go(link);
      const text = await anders.text();
      expect(text, link).not.toMatch(/no such|There is no file|cannot be shown|not found/i);
      if (!threads.includes(link)) continue;
      const id = link.slice(link.indexOf("thread=") + 7);
      await anders.page.waitForFunction(
        (thread) => {
          const at = document.activeElement;
          const { top, bottom } = at?.getBoundingClientRect() ?? { top: 0, bottom: 0 };
          return at?.getAttribute("data-thread") === thread && top >= 0 && bottom <= window.innerHeight;
        },
        { polling: 50 },
        id,
      );
    }
    // Who is not signed in comes there by way of signing in.
    const stranger = await house.visitor();
    const [link] = threads;
    await stranger.go(link);
    await stranger.page.type('input[name="name"]', "sunday");
    await stranger.page.type('input[name="password"]', "harbour-demo");
    await stranger.key("Enter");
    const thread = `[data-thread="${link.slice(link.indexOf("thread=") + 7)}"]`;
    await stranger.page.waitForFunction(
      (card) => document.activeElement?.matches(card) ?? false,
      { polling: 50 },
      thread,
    );
  });

  it("that name nothing say so, and lead to what comes near", async () => {
    await anders.go(`${CHANGE}?file=plan%2Fbord.ts`);
    await anders.see("There is no file plan/bord.ts here");
    await anders.press("Open plan/board.ts");
    await until(anders, `${CHANGE}?file=plan%2Fboard.ts`);
    await anders.go(`${CHANGE}?from=r7&to=r9`);
    await anders.see("There is nothing to compare from “r7” to “r9”");
    await anders.see("All of r2");
    await anders.go(`${CHANGE}?thread=nothing`);
    await anders.see("There is no such thread in this change set.");
    // A file that did not change is opened all the same.
    await anders.go(`${CHANGE}?file=package.json`);
    await anders.page.waitForSelector('section[aria-label="package.json"]');
  });
});

describe("what is typed", () => {
  it("is there again after a reload: opening a change set, a title, a reply", async () => {
    await anders.go("/r/berth-planner/open");
    await anders.page.type('input[name="title"]', "Half a title");
    await anders.go("/r/berth-planner/open");
    await anders.page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('input[name="title"]')?.value === "Half a title",
    );
    await anders.go(CHANGE);
    await anders.press("edit title and description");
    await anders.write(", or leaves");
    await anders.go(CHANGE);
    await anders.page.waitForFunction(
      () =>
        document.querySelector<HTMLInputElement>('input[aria-label="Title"]')?.value.endsWith(", or leaves") ?? false,
    );
  });

  it("does not write over what another wrote meanwhile before both were seen", async () => {
    const { title, description } = (
      (await anders.ask("GET", API)).body as { change: { title: string; description: string } }
    ).change;
    const mirela = await house.visitor();
    await mirela.signIn("mirela");
    const said = { kind: "describe", title, description: `${description}\n\nBy order of the harbour.` };
    expect(await mirela.ask("POST", API, said)).toMatchObject({ status: 200 });
    await anders.see("Mirela Dobrev has changed it since you began to write.");
    await anders.see("By order of the harbour.");
    const stale = { ...said, title: "Mine", was: { title, description } };
    expect(await anders.ask("POST", API, stale)).toMatchObject({ status: 409 });
    await anders.press("leave what is there");
    await anders.press("it said something else before");
    await anders.see("Changed by Mirela Dobrev:");
  });

  it("outlives the session: signed in again over the page, it goes on", async () => {
    await rosa.go(`${CHANGE}?file=plan%2Fboard.ts`);
    await rosa.page.waitForSelector(".row-cursor");
    await rosa.key("w");
    await rosa.page.waitForSelector('textarea[aria-label="Your remark, in Markdown"]');
    await rosa.write("Half a sentence");
    const cookies = (await rosa.page.cookies()).filter(({ name }) => name === "lens_session");
    await rosa.page.deleteCookie(...cookies);
    await rosa.write(" and the rest");
    await rosa.see("Your session has ended. What you wrote is still here.");
    await rosa.page.type('[role="dialog"] input[name="name"]', "rosa");
    await rosa.page.type('[role="dialog"] input[name="password"]', "harbour-demo");
    await rosa.key("Enter");
    await rosa.page.waitForFunction(
      async (api) => {
        const answer = await fetch(api);
        if (!answer.ok) return false;
        const { mine } = await answer.json();
        return mine.unsent.some(({ body }: { body: string }) => body === "Half a sentence and the rest");
      },
      { polling: 300 },
      API,
    );
    expect(await where(rosa)).toContain("file=plan%2Fboard.ts");
  });
});

describe("crowded margins", () => {
  it("are where they were when a press ends, whichever card it is on", async () => {
    await anders.go(`${CHANGE}?file=plan%2Fboard.ts`);
    await anders.page.waitForSelector("[data-thread]");
    const threads = await anders.page.$$eval("[data-thread]", (cards) =>
      cards.map((card) => card.getAttribute("data-thread")!),
    );
    expect(threads.length).toBeGreaterThan(1);
    // Those that open a menu open it with the press: that is what is under the pointer then.
    let pressed = 0;
    for (const thread of threads.reverse()) {
      const buttons = await anders.page.$$eval(
        `[data-thread="${thread}"] button:not([aria-haspopup])`,
        (all) => all.length,
      );
      for (let n = 0; n < buttons; n++) {
        const place = await anders.page.$eval(
          `[data-thread="${thread}"]`,
          (card, at) => {
            const button = card.querySelectorAll("button:not([aria-haspopup])")[at];
            button?.scrollIntoView({ block: "center" });
            const { x, y, width, height } = button?.getBoundingClientRect() ?? { x: 0, y: 0, width: 0, height: 0 };
            return width === 0 ? null : { x: x + Math.min(width, 20) / 2, y: y + height / 2 };
          },
          n,
        );
        if (!place) continue;
        await anders.page.mouse.move(place.x, place.y);
        await anders.page.mouse.down();
        // As long as a hand takes; what is under the pointer is still what was pressed.
        await new Promise((resolve) => setTimeout(resolve, 250));
        const under = await anders.page.evaluate(
          ({ x, y }) => document.elementFromPoint(x, y)?.closest("[data-thread]")?.getAttribute("data-thread"),
          place,
        );
        expect(under).toBe(thread);
        pressed++;
        await anders.page.mouse.move(place.x, place.y + 400);
        await anders.page.mouse.up();
        await anders.key("Escape");
      }
    }
    expect(pressed).toBeGreaterThan(threads.length);
  });

  it("had no error in any page", () => {
    expect([rosa.errors, anders.errors]).toEqual([[], []]);
  });
});
