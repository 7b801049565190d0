import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

let house: House;
let rosa: Visitor;
const CHANGE = "/r/tide-tables/c/2";

beforeAll(async () => {
  house = await House.toRead();
  rosa = await house.visitor();
  await rosa.signIn("rosa");
});
afterAll(() => house?.close());

/** The style with which the first element that fits is drawn. */
const styleOf = (selector: string, name: string) =>
  rosa.page.$eval(selector, (element, property) => getComputedStyle(element).getPropertyValue(property), name);

describe("a reader who is not to be fooled", () => {
  it("is told at the head of a file what the eye does not see, and finds it marked in the line", async () => {
    await rosa.go(`${CHANGE}?file=viewer/show.js`);
    await rosa.see("2 characters that turn the direction of the text: U+202E, U+2066.");
    await rosa.see("Names that look the same and are not: “оperator” (U+043E) and “operator”.");
    await rosa.page.waitForSelector(".odd");
    const marks = await rosa.page.$$eval(".odd", (all) =>
      all.map((one) => [one.getAttribute("data-code"), getComputedStyle(one).unicodeBidi]),
    );
    expect(marks).toEqual([
      ["U+202E", "isolate"],
      ["U+2066", "isolate"],
      ["U+043E", "isolate"],
    ]);
    expect(await styleOf(".row .code", "unicode-bidi")).toBe("isolate");
    expect(await styleOf(".row .code", "font-variant-ligatures")).toBe("none");
    // The character itself is still in the text: what is copied is what the file holds.
    expect(await rosa.text()).toContain("if (user === оperator) unlock();");
  });

  it("goes to the place by the caution, and sees in the outline which files have one", async () => {
    await rosa.press("line 19");
    await rosa.page.waitForFunction(() => location.search.includes("line=new%3A19"));
    const files = await rosa.page.$$eval("nav[aria-label=Outline] button", (all) =>
      all.map(({ innerText }) => innerText).filter((words) => words.includes("caution")),
    );
    expect(files).toHaveLength(5);
  });

  it("takes no part of a folder for the beginning of a name, however little room there is", async () => {
    const widths = await rosa.page.$$eval("nav[aria-label=Outline] .text-faint", (folders) =>
      folders.flatMap((folder) => {
        const row = folder.parentElement!;
        return Array.from({ length: 90 }, (_, n) => {
          row.style.width = `${60 + 2 * n}px`;
          const isSeen = folder.getBoundingClientRect().top < row.getBoundingClientRect().bottom - 2;
          return isSeen && folder.clientWidth < folder.scrollWidth ? folder.clientWidth : null;
        });
      }),
    );
    const cut = widths.filter((width) => width !== null);
    expect(cut.length).toBeGreaterThan(10);
    // Three letters of this size, or two and what says that there are more.
    expect(Math.min(...cut)).toBeGreaterThan(18);
    expect(widths.length).toBeGreaterThan(cut.length);
    await rosa.go(`${CHANGE}?file=viewer/show.js`);
  });

  it("sees the whole name of the file that is read, however little room there is", async () => {
    for (const width of [320, 720, 1000]) {
      await rosa.page.setViewport({ width, height: 640 });
      await rosa.go(`${CHANGE}?file=viewer/package-lock.json`);
      await rosa.page.waitForSelector("section header h2");
      const name = await rosa.page.$eval("section header h2", (head) => {
        const text = document.createRange();
        text.selectNodeContents(head);
        const { right, bottom } = text.getBoundingClientRect();
        const box = head.getBoundingClientRect();
        return { words: head.textContent, isCut: right > box.right + 1 || bottom > box.bottom + 1, end: box.right };
      });
      expect(name).toMatchObject({ words: "viewer/package-lock.json", isCut: false });
      expect(name.end).toBeLessThanOrEqual(width);
    }
    await rosa.page.setViewport({ width: 1280, height: 800 });
  });

  it("is told of each line that goes on out of sight, and has it whole by a click", async () => {
    const scrolled = (by: number) =>
      rosa.page.$eval("[data-testid=scroller]", (scroller, left) => scroller.scrollTo({ left }), by);
    /** Of each line: how far it is seen, and whether the row says that it goes on. */
    const lines = () =>
      rosa.page.$eval("[data-testid=scroller]", (scroller) => {
        const right = scroller.querySelector("aside")!.getBoundingClientRect().left;
        return [...scroller.querySelectorAll(".row:has(.code)")].map((row) => {
          const text = document.createRange();
          text.selectNodeContents(row.querySelector(".code")!);
          const said = row.querySelector(".beyond")?.getBoundingClientRect();
          const isSaid = said !== undefined && said.width > 0 && said.right <= right + 1;
          return { isCut: text.getBoundingClientRect().right > right + 1, isSaid };
        });
      });
    const cut = async () => (await lines()).filter(({ isCut }) => isCut).length;
    const asSaid = async () => (await lines()).every(({ isCut, isSaid }) => isCut === isSaid);
    await rosa.page.setViewport({ width: 320, height: 640 });
    await rosa.go(`${CHANGE}?file=viewer/show.js`);
    await rosa.page.waitForSelector(".row[data-beyond]");
    await expect.poll(asSaid).toBe(true);
    const all = (await lines()).length;
    expect(await cut()).toBeGreaterThan(3);
    expect(await cut()).toBeLessThan(all);
    await scrolled(10_000);
    await expect.poll(cut).toBe(0);
    await expect.poll(asSaid).toBe(true);
    // The margin is wider where it says something, and what it covers is out of sight as well.
    await rosa.page.setViewport({ width: 1280, height: 800 });
    await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts");
    await rosa.page.waitForSelector(".row[data-beyond]");
    await expect.poll(asSaid).toBe(true);
    // Who takes a suggestion takes all of it: nothing of one is out of sight.
    await rosa.go("/r/berth-planner/c/3?file=plan/board.ts");
    await rosa.see("Say the ship as well");
    await rosa.page.waitForSelector("[aria-label='What it changes']");
    const out = await rosa.page.$$eval("[aria-label='What it changes'] .code-line", (all) =>
      all.map((line) => line.getBoundingClientRect().right - line.closest("section")!.getBoundingClientRect().right),
    );
    expect(out.length).toBeGreaterThan(1);
    expect(Math.max(...out)).toBeLessThanOrEqual(0);
    await rosa.go("/r/berth-planner/c/3?file=plan/hold.ts");
    await rosa.page.waitForSelector(".row[data-beyond]");
    await rosa.page.click(".row[data-beyond] .beyond");
    await rosa.page.waitForSelector(".row-wrap");
    await expect.poll(cut).toBe(0);
    await rosa.key("l");
    await rosa.page.waitForSelector(".row[data-beyond]");
    await rosa.go(`${CHANGE}?file=viewer/show.js`);
    await rosa.page.waitForSelector(".odd");
  });

  it("is led to code that another function runs now, of which nothing is to read", async () => {
    await rosa.go(`${CHANGE}?file=tides/watch.py`);
    await rosa.see("Code went from “raise_alarm” to “describe”.");
    await rosa.see("18 lines to read in 4 files, and cautions in 1 quiet file.");
    await rosa.press("line 8");
    await rosa.page.waitForFunction(() => location.search.includes("line=new%3A8"));
    await rosa.see("out of “raise_alarm” into “describe”");
    await rosa.go(`${CHANGE}?file=viewer/show.js`);
    await rosa.page.waitForSelector(".odd");
  });

  it("verifies a fold by one key: the proof in words, and both sides whole", async () => {
    await rosa.press("verify");
    await rosa.see("Repeated: what proves it");
    await rosa.see("each name was replaced by one other, everywhere on the line");
    const sides = await rosa.page.$$eval("[role=dialog] pre", (all) => all.map((one) => one.textContent));
    expect(sides[0]).toContain("gaugeBox.textContent = reading.height.toFixed(2);");
    expect(sides[1]).toContain("wallPanel.textContent = reading.height.toFixed(2);");
    await rosa.key("Escape");
    await rosa.page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    await rosa.key("z");
    await rosa.see("what proves it");
    await rosa.key("Escape");
  });

  it("shows what stands in another block now beside what was put around it, and folds where it stood", async () => {
    await rosa.go("/r/tide-tables/c/1?file=tides/board.py");
    await rosa.see("4 lines, which stand in another block now");
    const rows = await rosa.page.$$eval("[role=row]", (all) => all.map((row) => row.textContent ?? ""));
    const head = rows.findIndex((row) => row.includes("if highs:"));
    expect(rows[head]).toContain("+");
    const within = rows.slice(head + 1, head + 5);
    expect(within.map((row) => row.includes("↳"))).toEqual([true, true, true, true]);
    expect(within[2]).toContain("board.light(high.at)");
  });

  it("says of a fold as many lines as it folds, and how to open it on a narrow screen, too", async () => {
    await rosa.go("/r/tide-tables/c/1?file=tides/gauge.py");
    const words = "6 lines, the same with other quotes, commas, brackets or semicolons";
    expect(await rosa.page.$eval(".row-fold", (fold) => fold.textContent)).toContain(words);
    await rosa.page.setViewport({ width: 320, height: 640 });
    const end = await rosa.page.$$eval(".row-fold button", (all) => all.at(-1)!.getBoundingClientRect().right);
    expect(end).toBeLessThanOrEqual(320);
    await rosa.page.setViewport({ width: 1280, height: 800 });
    await rosa.press("verify");
    await rosa.see("Style: what proves it");
    expect(await rosa.page.$eval("[role=dialog]", (sheet) => sheet.textContent)).toContain(words);
    await rosa.key("Escape");
  });

  it("reads a lockfile by its sum, and what is odd about it line by line", async () => {
    await rosa.go(`${CHANGE}?file=viewer/package-lock.json`);
    await rosa.see("is fetched from https://packages.elsewhere.example, which nothing was fetched from before.");
    await rosa.see("big-figures: 2.1.0 → 2.2.0");
    await rosa.page.waitForSelector(".row-added, .half.row-added");
    await rosa.go("/r/berth-planner/c/5?file=package-lock.json");
    await rosa.see("@harbour/anchor: 1.0.0 → 1.0.1");
    await rosa.page.waitForSelector(".row-fold");
  });

  it("is shown what became of files beside their lines, and what an author would have hidden", async () => {
    await rosa.go(`${CHANGE}?file=tools/publish.sh`);
    await rosa.see("This file was made executable.");
    await rosa.go(`${CHANGE}?file=.gitattributes`);
    await rosa.see("“viewer/*.js lens-generated”");
    await rosa.see("In this change set it hides nothing.");
    // One line each for the attributes and the program, the lines of the others.
    await rosa.see("lines to read in 4 files");
  });

  it("sees no two signs of code drawn as one in mail, either", async () => {
    await rosa.go("/mail");
    const place = await rosa.page.evaluate(() => {
      const code = document.createElement("code");
      document.querySelector("main, body")!.append(code);
      return getComputedStyle(code).fontVariantLigatures;
    });
    expect(place).toBe("none");
  });
});
