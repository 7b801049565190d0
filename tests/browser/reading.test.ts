import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

let house: House;
let rosa: Visitor;

beforeAll(async () => {
  house = await House.toRead();
  rosa = await house.visitor();
  await rosa.signIn("rosa");
});
afterAll(() => house?.close());

const count = (selector: string) => rosa.page.$$eval(selector, (found) => found.length);
const query = () => rosa.page.evaluate(() => new URLSearchParams(window.location.search).get("file"));
const vanish = (selector: string) =>
  rosa.page.waitForFunction((sought) => !document.querySelector(sought), {}, selector);

/** Texts on the page with a contrast below 4.5 to 1. */
async function faint(): Promise<{ words: string | undefined; ratio: number }[]> {
  const ratios = await rosa.page.evaluate(() => {
    const light = (colour: string) => {
      const [r, g, b] = (colour.match(/[\d.]+/g) ?? [])
        .map(Number)
        .map((v) => (v / 255 <= 0.03928 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4));
      return 0.2126 * r + 0.7152 * g + 0.0722 * b;
    };
    const behind = (element: Element | null): string => {
      for (let at = element; at; at = at.parentElement) {
        const { backgroundColor } = getComputedStyle(at);
        if (!/^rgba\(.*, 0\)$/.test(backgroundColor)) return backgroundColor;
      }
      return "rgb(255, 255, 255)";
    };
    const texts = [...document.querySelectorAll("p, span, button, h1, h2, code")].filter(
      (e) => e.childElementCount === 0 && e.textContent?.trim() && !e.closest("[aria-hidden]"),
    );
    return texts.map((e) => {
      const [a, b] = [light(getComputedStyle(e).color), light(behind(e))].sort((x, y) => y - x);
      return { words: e.textContent?.slice(0, 30), ratio: (a + 0.05) / (b + 0.05) };
    });
  });
  expect(ratios.length).toBeGreaterThan(40);
  return ratios.filter(({ ratio }) => ratio < 4.5);
}

describe("reading", () => {
  it("chooses columns by what changed, lets the reader overrule it, and remembers", async () => {
    await rosa.go("/r/berth-planner/c/4?file=plan/board.ts");
    await rosa.page.waitForSelector(".half");
    await rosa.key("k");
    await vanish(".half");
    await rosa.reload();
    await rosa.page.waitForSelector(".row-added");
    expect(await count(".half")).toBe(0);
    await rosa.go("/r/berth-planner/c/5?file=plan/overlap.ts");
    await rosa.page.waitForSelector(".row-added");
    expect(await count(".half")).toBe(0);
  });

  it("wraps long lines by one key, and remembers that too", async () => {
    await rosa.key("l");
    await rosa.page.waitForSelector(".row-wrap");
    await rosa.reload();
    await rosa.page.waitForSelector(".row-wrap");
    await rosa.key("l");
    await vanish(".row-wrap");
  });

  it("narrows the outline to marks, from which each file can still be opened", async () => {
    const code = () => rosa.page.$eval(".row-added", (row) => row.getBoundingClientRect().left);
    const wide = await code();
    await rosa.write("<");
    await rosa.page.waitForSelector('[aria-label="Open the outline"]');
    expect(wide - (await code())).toBeGreaterThan(150);
    await rosa.reload();
    await rosa.page.locator('nav[aria-label="Outline"] button[title^="Brief"]').click();
    await rosa.page.waitForFunction(() => !document.querySelector(".row-added"));
    await rosa.page.locator('nav[aria-label="Outline"] button[title^="plan/overlap.ts"]').click();
    await rosa.page.waitForSelector(".row-added");
    await rosa.page.locator('[aria-label="Open the outline"]').click();
    await vanish('[aria-label="Open the outline"]');
    expect(await code()).toBe(wide);
  });

  it("opens hidden lines around the cursor, and the whole file", async () => {
    await rosa.go("/r/berth-planner/c/3?file=tariff/waiting.ts");
    await rosa.page.waitForSelector(".row-gap");
    const before = await count(".row");
    await rosa.key("o");
    await rosa.page.waitForFunction((rows) => document.querySelectorAll(".row").length > rows, {}, before);
    await rosa.page.keyboard.down("Shift");
    await rosa.key("o");
    await rosa.page.keyboard.up("Shift");
    await vanish(".row-gap");
    await rosa.see("only changes");
  });

  it("leaves the line that is read where it is, whatever is opened above it", async () => {
    await rosa.page.setViewport({ width: 1280, height: 420 });
    await rosa.go("/r/berth-planner/c/3?file=plan/board.ts&line=old:42");
    await rosa.page.waitForSelector(".row-cursor");
    const top = () => rosa.page.$eval(".row-cursor", (row) => Math.round(row.getBoundingClientRect().top));
    const lines = () => rosa.page.$eval("[role=grid]", (grid) => Number(grid.ariaRowCount));
    const opensAbove = async () => {
      const [place, before] = [await top(), await lines()];
      for (let opened = before; opened < before + 20; opened = await lines()) {
        await rosa.key("o");
        await rosa.page.waitForFunction(
          (count) => Number(document.querySelector("[role=grid]")?.ariaRowCount) > count,
          {},
          opened,
        );
        await expect.poll(top).toBe(place);
      }
      return place;
    };
    const place = await opensAbove();
    await rosa.key("l");
    await rosa.page.waitForSelector(".row-wrap");
    await expect.poll(top).toBe(place);
    // The same where lines wrap already, so that those that come in are measured.
    await rosa.reload();
    await rosa.page.waitForSelector(".row-cursor.row-wrap");
    await opensAbove();
    await rosa.key("l");
    await vanish(".row-wrap");
    await expect.poll(top).toBe(place);
    // And where one thing follows another before the first was drawn.
    await rosa.reload();
    await rosa.page.waitForSelector(".row-cursor");
    await rosa.page.evaluate(() => {
      for (const key of ["o", "o", "l"])
        document.activeElement?.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
    });
    await rosa.page.waitForSelector(".row-wrap");
    await expect.poll(top).toBe(place);
    await rosa.key("l");
    await vanish(".row-wrap");
    await expect.poll(top).toBe(place);
    await rosa.page.setViewport({ width: 1280, height: 800 });
  });

  it("goes through the differences across files, and by name to any file", async () => {
    await rosa.go("/r/berth-planner/c/3?from=base&to=r2");
    await rosa.see("Begin to read");
    await rosa.key("d");
    await rosa.page.waitForSelector(".row-cursor");
    const first = await query();
    for (let i = 0; i < 12 && (await query()) === first; i++) await rosa.key("d");
    expect(await query()).not.toBe(first);
    await rosa.page.keyboard.down("Control");
    await rosa.key("k");
    await rosa.page.keyboard.up("Control");
    await rosa.page.waitForSelector("[cmdk-input]");
    await rosa.write("pilot.ts");
    await rosa.see("plan/pilot.ts");
    await rosa.key("Enter");
    await rosa.page.waitForFunction(() => window.location.search.includes("plan%2Fpilot.ts"));
  });

  it("reads one commit after the other, and all of it again", async () => {
    await rosa.go("/r/berth-planner/c/3");
    await rosa.see("5 commits in r2");
    await rosa.key("c");
    await rosa.see("Commit 1 of 5");
    await rosa.see("Refuse an extension past the tide window");
    await rosa.key("c");
    await rosa.see("Commit 2 of 5");
    await rosa.reload();
    await rosa.see("Commit 2 of 5");
    await rosa.key("a");
    await rosa.see("All of r2");
  });

  it("reads several commits together, and says of a line what stood there before and why", async () => {
    await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts");
    await rosa.page.waitForSelector(".row-added");
    await rosa.key("g");
    await rosa.see("Commit 1 of 5");
    await rosa.key("g");
    await rosa.see("Commits 1 to 2 of 5");
    await rosa.key("a");
    await rosa.see("All of r2");
    await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts&line=new:7");
    await rosa.page.waitForSelector(".row-cursor");
    await rosa.key("y");
    await rosa.see("Why: 1 commit touched it");
    await rosa.see("An error of its own for a refused hold");
    await rosa.see("Nothing stood here: the line is new.");
    await rosa.key("y");
    await vanish('aside[aria-label^="What stood before"]');
  });

  it("finds words in what changed, and goes there", async () => {
    await rosa.key("/");
    await rosa.page.waitForSelector("[cmdk-input]");
    await rosa.write("past the tide");
    await rosa.see("in 2 files");
    await rosa.key("Enter");
    await rosa.page.waitForFunction(() =>
      document.querySelector(".row-cursor")?.textContent?.includes("past the tide window"),
    );
  });

  it("opens the block around a line, and goes to the next file that is not read", async () => {
    await rosa.go("/r/berth-planner/c/3?file=plan/board.ts&line=new:33");
    await rosa.page.waitForSelector(".row-gap");
    const before = await count(".row");
    await rosa.key("e");
    await rosa.page.waitForFunction((rows) => document.querySelectorAll(".row").length > rows, {}, before);
    await rosa.key("n");
    await rosa.page.waitForFunction(() => !window.location.search.includes("board.ts"));
    expect(await rosa.text()).toMatch(/0 of \d+ lines read/);
  });

  it("shows images beside each other, from a route that gives nothing else", async () => {
    await rosa.go("/r/tide-tables/c/1?file=docs/curve.png");
    await rosa.see("360 × 180");
    expect(
      await rosa.page.$$eval("figure img", (images) => images.map((image) => (image as HTMLImageElement).naturalWidth)),
    ).toEqual([360, 360]);
    // What differs between the two is counted, and marked in a picture of its own.
    await rosa.see("pixels differ");
    const [count] = /([\d,]+) of 64,800 pixels differ/.exec(await rosa.text())?.slice(1) ?? [];
    await rosa.press("mark what differs");
    await rosa.page.waitForSelector("canvas[aria-label='What differs']");
    const marked = () =>
      rosa.page.$eval("canvas[aria-label='What differs']", (canvas) => {
        const { data } = (canvas as HTMLCanvasElement).getContext("2d")!.getImageData(0, 0, 360, 180);
        return data.filter((part, at) => at % 4 === 0 && part === 176 && data[at + 1] === 58).length;
      });
    await expect.poll(marked).toBe(Number(count?.replace(",", "")));
    await rosa.press("side by side");
    expect(await rosa.ask("GET", `/api/repos/tide-tables/image?id=${"0".repeat(40)}`)).toMatchObject({ status: 404 });
    expect(await rosa.ask("GET", "/api/repos/tide-tables/image?id=HEAD")).toMatchObject({ status: 404 });
  });

  it("holds in a narrow window and at night, without a colour that cannot be read", async () => {
    await rosa.page.setViewport({ width: 820, height: 700 });
    await rosa.page.setCookie({ name: "lens_theme", value: "night", url: house.address });
    await rosa.go("/r/tide-tables/c/1?file=tides/table.py");
    await rosa.page.waitForSelector('aside button[aria-label^="open thread"]');
    await rosa.page.click('aside button[aria-label^="open thread"]');
    await rosa.see("Where does this number come from?");
    expect(await faint()).toEqual([]);
    await rosa.page.setCookie({ name: "lens_theme", value: "paper", url: house.address });
    await rosa.go("/r/berth-planner/c/3?file=plan/board.ts");
    await rosa.page.waitForSelector(".row-added .c1");
    expect(await faint()).toEqual([]);
  });

  it("keeps in sight which files come next, and leaves what is pressed where it is", async () => {
    // High enough for a file with what is to be seen above and below it, and less high than the list.
    await rosa.page.setViewport({ width: 1280, height: 300 });
    await rosa.go("/r/tide-tables/c/2");
    /** How many pixels of the outline there are above and below the file that is open in it; null while it is another one. */
    const around = (name: string) =>
      rosa.page.evaluate((sought) => {
        const outline = document.querySelector('nav[aria-label="Outline"]')!;
        const at = outline.querySelector("[aria-current]");
        if (!at?.textContent?.includes(sought)) return null;
        const [frame, own] = [outline.getBoundingClientRect(), at.getBoundingClientRect()];
        return { above: own.top - frame.top, below: frame.bottom - own.bottom };
      }, name);
    for (const name of [".gitattributes", "publish.sh"]) {
      await rosa.key("f");
      await expect.poll(async () => ((await around(name))?.below ?? 0) >= 54).toBe(true);
    }
    // The next one stands further down, and stays there.
    const next = await rosa.page.waitForSelector('nav[aria-label="Outline"] button[title*="package-lock"]');
    const top = async () => (await next!.boundingBox())!.y;
    const before = await top();
    await next!.click();
    await expect.poll(() => around("package-lock.json")).not.toBeNull();
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(await top()).toBe(before);
    await rosa.page.setViewport({ width: 1280, height: 800 });
  });

  it("stays in its frame whatever is brought into view", async () => {
    await rosa.go("/r/berth-planner/c/3");
    await rosa.see("5 commits in r2");
    const top = () => rosa.page.$eval("h1", (title) => title.getBoundingClientRect().top);
    const before = await top();
    await rosa.page.$eval('section[aria-label="Commits"]', (section) => section.scrollIntoView());
    expect(await top()).toBe(before);
    const over = () =>
      rosa.page.$$eval(".overflow-clip", (all) => all.map((frame) => frame.scrollHeight - frame.clientHeight));
    expect(await over()).toEqual([0]);
  });

  it("draws no line over another, whatever is opened around lines that go on below", async () => {
    /** By how many pixels rows reach into the next one, and how many rows go on below. */
    const drawn = () =>
      rosa.page.$$eval("[role=grid] .row", (rows) => {
        const places = rows.map((row) => row.getBoundingClientRect()).sort((a, b) => a.top - b.top);
        const over = places.slice(1).map(({ top }, before) => Math.max(0, Math.round(places[before].bottom - top)));
        return {
          over: over.filter((pixels) => pixels > 0),
          wrapped: places.filter(({ height }) => height > 30).length,
        };
      });
    await rosa.go("/r/berth-planner/c/4?file=plan/board.ts");
    await rosa.page.waitForSelector(".row-gap");
    // One column was asked for, and is remembered.
    await rosa.key("k");
    await rosa.page.waitForSelector(".half");
    for (let opened = 0; ; opened++) {
      const before = await count(".row");
      expect((await drawn()).wrapped).toBeGreaterThan(3);
      await expect.poll(async () => (await drawn()).over).toEqual([]);
      if (opened === 2) break;
      await rosa.key("o");
      await rosa.page.waitForFunction((rows) => document.querySelectorAll(".row").length !== rows, {}, before);
    }
    await rosa.key("k");
    await vanish(".half");
  });

  it("knows how high lines are that it has drawn before, whatever is opened beside them", async () => {
    await rosa.page.setViewport({ width: 1000, height: 400 });
    await rosa.go("/r/berth-planner/c/4?file=plan/board.ts");
    await rosa.page.waitForSelector(".row-gap");
    // Whichever way the file was laid out last: both sides beside each other from here on.
    if (!(await rosa.page.$(".half"))) await rosa.key("k");
    await rosa.page.waitForSelector(".half");
    const height = () => rosa.page.$eval("[data-testid=scroller]", ({ scrollHeight }) => scrollHeight);
    /** How high it is once all of it was drawn: a stretch at a time, each until there is a picture of it. */
    const seen = () =>
      rosa.page.$eval("[data-testid=scroller]", async (scroller) => {
        const pictured = () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
        for (let top = 0; top < scroller.scrollHeight; top += scroller.clientHeight / 2) {
          scroller.scrollTop = top;
          await pictured();
        }
        scroller.scrollTop = 0;
        await pictured();
        return scroller.scrollHeight;
      });
    await seen();
    const before = await count(".row-gap");
    await rosa.key("o");
    await rosa.page.waitForFunction((gaps) => document.querySelectorAll(".row-gap").length !== gaps, {}, before);
    // Lines that were never drawn are as high as they are once there is a picture of them.
    await rosa.page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    const opened = await height();
    expect(await seen()).toBe(opened);
    await rosa.key("k");
    await vanish(".half");
    await rosa.page.setViewport({ width: 1280, height: 800 });
  });

  it("had no error in any page", () => {
    expect(rosa.errors).toEqual([]);
  });
});
