import { execFile } from "node:child_process";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import type { Browser, BrowserContext, HTTPRequest, Page } from "puppeteer-core";
import { inject } from "vitest";
import type { Served } from "~/tests/served";
import { chromium } from "./chromium";
import { demoData, readingRoom, served } from "./common";

/** So long, in milliseconds, is waited for anything, as all tests wait: on a busy machine a first answer takes its time. */
export const PATIENCE = 50_000;

/** The built application with the demo data in a folder of its own, and a browser beside it. */
export class House {
  private readonly contexts: BrowserContext[] = [];

  private constructor(
    readonly folder: string,
    private readonly server: Pick<Served, "address" | "said" | "stop">,
    private readonly browser: Browser,
  ) {}

  /** With the demo's data, or `empty`: as it is before anyone began. */
  static async open({ empty = false } = {}): Promise<House> {
    process.env.LENS_LOG = "silent";
    const folder = mkdtempSync(join(tmpdir(), "lens-house-"));
    const data = join(folder, "data");
    if (!empty) cpSync(await demoData(inject("common")), data, { recursive: true });
    return House.with(folder, await served(data, empty ? /sign-in#\S+\n/ : undefined));
  }

  /** For tests that change nothing which others read: all of them are at the same server. */
  static async toRead(): Promise<House> {
    const address = await readingRoom(inject("common"));
    return House.with(mkdtempSync(join(tmpdir(), "lens-house-")), { address, said: "", stop: async () => {} });
  }

  private static async with(folder: string, server: House["server"]): Promise<House> {
    return new House(folder, server, await chromium(inject("common")));
  }

  get address(): string {
    return this.server.address;
  }

  /** What the server printed when it started. */
  get said(): string {
    return this.server.said;
  }

  async close(): Promise<void> {
    for (const context of this.contexts) await context.close();
    await this.server.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }

  /** Runs the `lens` command on the same data; gives what it prints. */
  async lens(...args: string[]): Promise<string> {
    const code =
      'import("./dist/lens.mjs").then(({ main }) => main(process.argv.slice(1))).then((status) => process.exit(status))';
    const root = process.env.LENS_ROOT ?? process.cwd();
    const env = { ...process.env, LENS_ROOT: root, LENS_DATA: join(this.folder, "data") };
    const { stdout } = await promisify(execFile)(process.execPath, ["-e", code, ...args], { cwd: root, env });
    return stdout.trim();
  }

  /** A browser of one's own: nothing is shared between two visitors. Errors of the page fail the test through `errors`. */
  async visitor(): Promise<Visitor> {
    const context = await this.browser.createBrowserContext();
    this.contexts.push(context);
    const page = await context.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    return new Visitor(page, this.address);
  }
}

/** One person at their browser, who finds things by what they say. */
export class Visitor {
  readonly errors: string[] = [];
  /** What the server said no to, for the message of a failure. */
  readonly refusals: string[] = [];
  /** What was last done, and which pages were opened, for the message of a failure. */
  private readonly trail: string[] = [];
  private readonly asked = new Set<HTTPRequest>();
  constructor(
    readonly page: Page,
    readonly address: string,
  ) {
    page.setDefaultTimeout(PATIENCE);
    this.listenIn();
    page.on("response", (response) => {
      const { pathname } = new URL(response.url());
      if (response.status() >= 400)
        this.refusals.push(`${response.request().method()} ${pathname} ${response.status()}`);
    });
    const note = (words: string) => {
      this.trail.push(`${(performance.now() / 1000).toFixed(1)} s ${words}`);
      if (this.trail.length > 12) this.trail.shift();
    };
    page.on("response", (response) => {
      const { pathname } = new URL(response.url());
      const method = response.request().method();
      if (method !== "GET") note(`${method} ${pathname} ${response.status()}`);
    });
    page.on("requestfailed", (request) => note(`${request.method()} ${request.url()} ${request.failure()?.errorText}`));
    page.on("framenavigated", (frame) => note(`at ${frame.url()}`));
    page.on("pageerror", (error) => this.errors.push(String(error)));
    page.on(
      "console",
      (message) =>
        message.type() === "error" && !/status of 4\d\d/.test(message.text()) && this.errors.push(message.text()),
    );
  }

  async go(path: string): Promise<void> {
    await this.page.goto(new URL(path, this.address).href, { waitUntil: "load" });
    await this.settled();
  }

  /** The same page, loaded anew. */
  async reload(): Promise<void> {
    await this.page.reload({ waitUntil: "load" });
    await this.settled();
  }

  /** Waits until the page listens to keys and presses, and has what it asked for: what is pressed before is lost, also for a person. */
  private async settled(): Promise<void> {
    const listens = () => {
      if (!document.querySelector('script[src*="/_next/"]')) return true;
      const heard = (element: Element) => Object.keys(element).some((name) => name.startsWith("__reactProps$"));
      return [...document.querySelectorAll("button, form")].every(heard) && heard(document.body);
    };
    await this.page.waitForFunction(listens, { polling: 40 });
    const until = Date.now() + PATIENCE;
    for (let still = 0; still < 12 && Date.now() < until; still = this.asked.size === 0 ? still + 1 : 0)
      await new Promise((resolve) => setTimeout(resolve, 25));
    if (this.asked.size > 0)
      throw new Error(`Never answered: ${[...this.asked].map((asked) => asked.url()).join(", ")}`);
  }

  /** Counts what the page has asked for and not got yet. What an earlier page asked for is not waited for, nor news, which come as long as it is open. */
  private listenIn(): void {
    this.page.on("request", (request) => {
      if (!request.isNavigationRequest() && request.resourceType() !== "eventsource") this.asked.add(request);
    });
    // What a page had asked for is not always said to have failed when another page takes its place.
    this.page.on("response", (response) => response.request().isNavigationRequest() && this.asked.clear());
    this.page.on("requestfinished", (request) => this.asked.delete(request));
    this.page.on("requestfailed", (request) => this.asked.delete(request));
  }

  async signInByForm(name: string, password = "harbour-demo"): Promise<void> {
    await this.go("/sign-in");
    await this.page.type('input[name="name"]', name);
    await this.page.type('input[name="password"]', password);
    await this.press("Sign in");
    await this.see("’s desk");
  }

  /** Signs in as the form does, without the form, and goes to the desk. */
  async signIn(name: string, password = "harbour-demo"): Promise<void> {
    const answer = await fetch(`${this.address}/api/sign-in`, {
      method: "POST",
      headers: { "content-type": "application/json", origin: this.address },
      body: JSON.stringify({ name, password }),
    });
    if (answer.status !== 200) throw new Error(`${name} is not let in: ${await answer.text()}`);
    for (const cookie of answer.headers.getSetCookie()) {
      const [, key, value] = /^([^=]+)=([^;]*)/.exec(cookie)!;
      await this.page.setCookie({ name: key, value, url: this.address, httpOnly: true });
    }
    await this.go("/");
    await this.see("’s desk");
  }

  /** Presses a button, or follows a link, by its words. */
  async press(words: string): Promise<void> {
    await this.page
      .locator(`::-p-xpath(//*[self::button or self::a][contains(normalize-space(.), "${words}")])`)
      .click();
  }

  /** Presses it until what it opens is there: what comes in meanwhile may have moved it away from under the pointer. */
  async pressFor(words: string, opened: string): Promise<void> {
    for (let tries = 0; tries < 4; tries++) {
      await this.press(words);
      if (await this.page.waitForSelector(opened, { timeout: 4_000 }).catch(() => null)) return;
    }
    throw new Error(`“${words}” never opened ${opened}.`);
  }

  /** Waits until the cards of the margin have stood still for a while: colours and threads that come in move them. */
  async calm(): Promise<void> {
    const places = () =>
      this.page.$$eval("article", (cards) => cards.map((card) => card.getBoundingClientRect().top).join(" "));
    const until = Date.now() + 5_000;
    for (let same = 0, last = await places(); same < 4 && Date.now() < until; ) {
      await new Promise((resolve) => setTimeout(resolve, 80));
      const now = await places();
      same = now === last ? same + 1 : 0;
      last = now;
    }
  }

  /** Waits until the page says this. Looks at it now and then, since a page in the background draws nothing. */
  async see(words: string): Promise<void> {
    await this.page.waitForFunction(says, { polling: 100 }, words).catch(async () => {
      throw new Error(
        `The page never said “${words}”. Refused: ${this.refusals.join(", ")}. Last: ${this.trail.join("; ")}. It says:\n${(await this.text()).slice(0, 12_000)}`,
      );
    });
  }

  text(): Promise<string> {
    return this.page.evaluate(() => document.body.innerText);
  }

  key(key: Parameters<Page["keyboard"]["press"]>[0]): Promise<void> {
    return this.page.keyboard.press(key);
  }

  write(words: string): Promise<void> {
    return this.page.keyboard.type(words);
  }

  /** Asks the server as this person would with a program of their own. */
  ask(method: string, path: string, body?: unknown): Promise<{ status: number; reason: string; body: unknown }> {
    return this.page.evaluate(
      async (how, where, what) => {
        const headers = { "content-type": "application/json" };
        const response = await fetch(where, {
          method: how,
          headers,
          body: what === null ? undefined : JSON.stringify(what),
        });
        const answer = await response.json().catch(() => null);
        return { status: response.status, reason: answer?.refusal?.reason ?? "", body: answer };
      },
      method,
      path,
      body ?? null,
    );
  }
}

/**
 * In the page: whether it says some words. What is written in it at all costs little to find; how it is laid out, which decides what of it can be
 * read, is worked out by the browser for every question, so that it is asked where the words are there, and now and then where they are not.
 */
function says(sought: string): boolean {
  const { body } = document;
  if (!body) return false;
  const page = window as { asked?: number };
  page.asked = (page.asked ?? 0) + 1;
  return (page.asked % 10 === 1 || (body.textContent ?? "").includes(sought)) && body.innerText.includes(sought);
}
