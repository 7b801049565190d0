import { execFile } from "node:child_process";
import { connect } from "node:net";
import { join } from "node:path";
import { promisify } from "node:util";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

/** Who comes in, with what, and what they can do to others: on the real server, by the page and by hand. */
let house: House;
let rosa: Visitor;
let mirela: Visitor;
/** How long a head of which a letter comes each second was waited for, in milliseconds; it begins with the first test, since it takes long. */
let slow: Promise<number>;
const run = promisify(execFile);

beforeAll(async () => {
  house = await House.open();
  rosa = await house.visitor();
  mirela = await house.visitor();
  await rosa.signIn("rosa");
  await mirela.signIn("mirela");
  slow = dripped(Number(new URL(house.address).port));
}, 120_000);
afterAll(() => house.close());

async function dripped(port: number): Promise<number> {
  const socket = connect(port, "127.0.0.1");
  socket.write("GET /api/health HTTP/1.1\r\nHost: x\r\nX-Slow: ");
  const drip = setInterval(() => socket.write("a"), 1_000);
  const begun = Date.now();
  await new Promise((resolve) => socket.once("close", resolve).once("error", () => undefined));
  clearInterval(drip);
  return Date.now() - begun;
}

const call = (path: string, init: RequestInit = {}) => fetch(house.address + path, init);
const bearer = (token: string) => ({ authorization: `Bearer ${token}` });

async function makeToken(who: Visitor, label: string, tick: string[]): Promise<string> {
  await who.go("/tokens");
  await who.page.type('input[placeholder="my laptop"]', label);
  for (const words of ["look, by", "change things", "fetch and push"]) {
    const box = `::-p-xpath(//label[contains(., "${words}")]/input)`;
    const on = await who.page.$eval(box, (input) => (input as HTMLInputElement).checked);
    if (on !== tick.includes(words)) await who.page.locator(box).click();
  }
  await who.press("Make a token");
  await who.see("shown this once");
  return who.page.$eval('[data-testid="token"]', (code) => code.textContent ?? "");
}

describe("a token", () => {
  it("does what it was made for and no more, and makes no others", async () => {
    const reads = await makeToken(rosa, "a script", ["look, by"]);
    await rosa.see("read · made");
    await rosa.see("ends in 90 days");
    const change = "/api/repos/berth-planner/changes/3";
    expect((await call(change, { headers: bearer(reads) })).status).toBe(200);
    const write = { method: "POST", headers: { ...bearer(reads), "content-type": "application/json" }, body: "{}" };
    expect(await (await call(change, write)).text()).toMatch(/This token may not write: it is for read/);
    expect((await call("/api/tokens", write)).status).toBe(403);
    const git = `${house.address.replace("://", `://rosa:${reads}@`)}/git/berth-planner.git`;
    await expect(run("git", ["ls-remote", git])).rejects.toThrow(/403|not for git/);
    const clones = await makeToken(rosa, "git only", ["fetch and push"]);
    expect((await call(change, { headers: bearer(clones) })).status).toBe(403);
    const { stdout } = await run("git", ["ls-remote", git.replace(reads, clones), "refs/heads/main"]);
    expect(stdout).toMatch(/refs\/heads\/main/);
    const twice = "/git/berth-planner.git/info/refs?service=git-upload-pack&service=git-receive-pack";
    const basic = { authorization: `Basic ${Buffer.from(`rosa:${clones}`).toString("base64")}` };
    expect((await call(twice, { headers: basic })).status).toBe(400);
  });
});

describe("who keeps the installation", () => {
  it("sees who did what, and ends an account: its page hears no more, its tokens and sessions are gone", async () => {
    const token = await makeToken(rosa, "before", ["look, by"]);
    await rosa.go("/r/berth-planner/c/3");
    await mirela.page.bringToFront();
    await mirela.go("/keeping");
    await mirela.page
      .locator('::-p-xpath(//li[contains(., "Rosa Vance")]//button[normalize-space(.)="change"])')
      .click();
    await mirela.press("disable …");
    await mirela.press("yes, disable them");
    await mirela.see("rosa is disabled.");
    await mirela.press("Who did what");
    await mirela.see("disabled a person · name rosa");
    await mirela.see("made a token");
    expect((await call("/api/repos/berth-planner/changes/3", { headers: bearer(token) })).status).toBe(401);
    await rosa.page.bringToFront();
    await rosa.go("/");
    await rosa.see("Sign in");
    expect(JSON.parse((await house.lens("audit")).split("\n").at(-1) ?? "{}")).toMatchObject({
      what: "person-disabled",
    });
    await house.lens("person", "enable", "rosa");
    await rosa.signIn("rosa");
  });

  it("is nobody else: the page and its routes do not exist for others", async () => {
    await rosa.go("/keeping");
    await rosa.see("There is nothing here that you may see");
    expect(await rosa.ask("GET", "/api/keeping/audit")).toMatchObject({ status: 404 });
    expect(await rosa.ask("POST", "/api/keeping/people/mirela", { kind: "disable" })).toMatchObject({ status: 404 });
  });

  it("finds everything as it should be, and a backup of it", async () => {
    expect(await house.lens("check")).toBe("Everything is as it should be.");
    expect(await house.lens("backup", join(house.folder, "backup"))).toMatch(/has the database and 2 repositories/);
    await expect(house.lens("serve")).rejects.toThrow(/is being served already: by process \d+/);
  });
});

describe("another branch", () => {
  it("is chosen in the brief, asks its own rules, and the chain is shown there", async () => {
    await mirela.page.bringToFront();
    await mirela.go("/r/berth-planner/c/8");
    await mirela.see("It stands on change set 7");
    await mirela.press("offer it to another branch");
    await mirela.page.waitForSelector(
      'select[name="target"] option[value="main"], select[name="target"] option:nth-child(3)',
    );
    await mirela.page.select('select[name="target"]', "main");
    await mirela.press("Offer it there");
    await mirela.see("board-for-agents into main");
    await mirela.see("0 of 1 approval of r2");
  });
});

describe("hostile clients", () => {
  let token: string;
  beforeAll(async () => {
    await house.lens("person", "add", "big", "--full-name", "Big", "--machine");
    await house.lens("role", "set", "big", "berth-planner", "contributor");
    token = (await house.lens("person", "token", "big")).split("\n").at(-1) ?? "";
  });

  it("keep nobody waiting with a pattern", async () => {
    const hostile = `${"*a".repeat(11)}*b`;
    const rules = {
      rules: [
        { branches: hostile, direct: true },
        { branches: `{a,a*}{a,a*}{a,a*}{a,a*}b`, direct: true },
      ],
    };
    const answer = await mirela.ask("POST", "/api/repos/berth-planner/rules/try", { rules });
    expect([200, 422]).toContain(answer.status);
    expect((await call("/api/health")).status).toBe(200);
  });

  it("are told how large a report may be, and one below that really works", async () => {
    const { body } = await mirela.ask("GET", "/api/repos/berth-planner/changes/3");
    const { revisions } = (body as { change: { revisions: { head: string }[] } }).change;
    const report = (megabytes: number) =>
      `<testsuite name="s"><testcase name="t"/><system-out>${"x".repeat(megabytes * 1024 * 1024)}</system-out></testsuite>`;
    const send = (text: string) =>
      call(`/api/repos/berth-planner/commits/${revisions.at(-1)?.head}/reports/large`, {
        method: "POST",
        headers: bearer(token),
        body: text,
      });
    expect((await send(report(20))).status).toBe(200);
    expect((await send(report(25))).status).toBe(413);
    const reader = await house.visitor();
    await reader.signIn("pim");
    // Who may not report is told so before anything of it is read.
    expect(
      await reader.ask("POST", `/api/repos/berth-planner/commits/${revisions.at(-1)?.head}/reports/large`, { no: 1 }),
    ).toMatchObject({ status: 403 });
  });

  it("are not served what hangs nowhere, and nothing that the API answers can run", async () => {
    const folder = (await run("sh", ["-c", `ls -d ${join(house.folder, "data/repositories")}/*.git`])).stdout
      .trim()
      .split("\n");
    for (const repository of folder) {
      const blob = await run("sh", [
        "-c",
        `echo secret-${process.pid} | git --git-dir "$0" hash-object -w --stdin`,
        repository,
      ]);
      for (const name of ["berth-planner", "tide-tables"])
        expect(await rosa.ask("GET", `/api/repos/${name}/files?new=${blob.stdout.trim()}`)).toMatchObject({
          status: 404,
        });
    }
    for (const path of ["/sign-in", "/none", "/api/repos/none/such"]) {
      const page = await call(path, { headers: { accept: "text/html,*/*;q=0.8" } });
      const policy = page.headers.get("content-security-policy") ?? "";
      const [, nonce] = /'nonce-([^']+)' 'strict-dynamic'/.exec(policy) ?? [];
      const scripts = (await page.text()).match(/<script\b[^>]*>/g) ?? [];
      expect(scripts.length, path).toBeGreaterThan(3);
      for (const script of scripts) expect(script, path).toContain(`nonce="${nonce}"`);
    }
    const answer = await call("/api/health");
    expect(answer.headers.get("content-security-policy")).toMatch(/sandbox/);
    expect(answer.headers.get("x-content-type-options")).toBe("nosniff");
  });

  it("who are slow with the head of a request are cut off", async () => {
    expect(await slow).toBeLessThan(90_000);
  });
});
