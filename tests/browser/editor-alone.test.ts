import { execFileSync, spawn, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Editor } from "./editor";

/** Editors in two clones of a bare repository, with no server at all: what is written in one is in its ledger, and is handed over. */
const root = process.env.LENS_ROOT ?? process.cwd();
const folder = mkdtempSync(join(tmpdir(), "lens-alone-"));
const bare = join(folder, "bare.git");
const editors: Editor[] = [];
const placeOf = (name: string) => join(folder, name, "quay");

function git(name: string, ...args: string[]): string {
  return execFileSync("git", ["-C", placeOf(name), ...args], { stdio: ["ignore", "pipe", "ignore"] }).toString();
}
function lens(name: string, ...args: string[]): string {
  const env = { ...process.env, INIT_CWD: placeOf(name) };
  const { stdout, stderr } = spawnSync(process.execPath, [join(root, "dist/lens.mjs"), ...args], {
    cwd: placeOf(name),
    env,
  });
  return `${stdout}${stderr}`;
}
function clone(name: string): void {
  rmSync(join(folder, name), { recursive: true, force: true });
  mkdirSync(join(folder, name));
  execFileSync("git", ["clone", "--quiet", bare, placeOf(name)], { stdio: "ignore" });
  git(name, "config", "user.name", `${name} Example`);
  git(name, "config", "user.email", `${name}@x.example`);
}
async function open(name: string): Promise<Editor> {
  const editor = await Editor.start(placeOf(name), { LENS_LOG: "silent" });
  editors.push(editor);
  return editor;
}

beforeAll(() => {
  execFileSync("git", ["init", "--quiet", "--bare", "--initial-branch=main", bare]);
  clone("ann");
  git("ann", "checkout", "--quiet", "-b", "main");
  writeFileSync(join(placeOf("ann"), "a.txt"), "one\ntwo\nthree\n");
  git("ann", "add", "--all");
  git("ann", "commit", "--quiet", "-m", "first");
  git("ann", "push", "--quiet", "origin", "main");
  git("ann", "checkout", "--quiet", "-b", "topic");
  writeFileSync(join(placeOf("ann"), "a.txt"), "one\n2\nthree\n");
  git("ann", "commit", "--quiet", "--all", "-m", "two as a number");
  git("ann", "push", "--quiet", "origin", "topic");
});
afterAll(async () => {
  for (const editor of editors) await editor.close();
  rmSync(folder, { recursive: true, force: true });
});

describe("an editor without a server", () => {
  it("goes on with the clone by itself: remarks are kept, sent, and shown at their line", async () => {
    const editor = await open("ann");
    await editor.open("a.txt");
    const remark = { path: "a.txt", start: 2, end: 2, body: "Is that shorter?" };
    await expect
      .poll(() => editor.run("lens.remark", remark), { timeout: 60_000, interval: 500 })
      .toBe("Kept, and not sent yet.");
    expect(editor.messages.join()).toContain("Going on with this clone by itself");
    await editor.until("a.txt", (all) => all.some(({ message }) => message === "Is that shorter?"));
    expect(await editor.run("lens.send", { word: "My own thoughts." })).toBe("Your review is sent.");
    const shown = await editor.until("a.txt", (all) => all.some(({ source }) => source === "lens"));
    expect(shown[0]).toMatchObject({ message: "ann Example: Is that shorter?", range: { start: { line: 1 } } });
    // Another start of the same clone comes in by the same door, which only its owner can read.
    const door = JSON.parse(readFileSync(join(placeOf("ann"), ".git/lens/here/door.json"), "utf8"));
    const second = await open("ann");
    await second.until("a.txt", (all) => all.length === 1);
    expect(JSON.parse(readFileSync(join(placeOf("ann"), ".git/lens/here/door.json"), "utf8"))).toEqual(door);
    await second.close();
    editors.pop();
    await editor.close();
    editors.pop();
  });

  it("hands it over: in another clone the editor shows it, and answers it", async () => {
    expect(lens("ann", "sync")).toContain("In step with origin.");
    const [, key] = /Signed by ([0-9a-f]{32})\./.exec(lens("ann", "ledger")) ?? [];
    clone("ben");
    git("ben", "checkout", "--quiet", "topic");
    expect(lens("ben", "sync", "origin", "--accept", key)).toContain("In step with origin.");
    const editor = await open("ben");
    const [shown] = await editor.until("a.txt", (all) => all.length > 0);
    // By which key they are known stands behind their name.
    expect(shown.message).toMatch(/^ann Example \([0-9a-f]{8}\): Is that shorter\?$/);
    const thread = String(shown.code);
    expect(await editor.run("lens.reply", { thread, body: "By two letters." })).toBe("Kept, and not sent yet.");
    // It was begun for her own reading: nobody is asked for a verdict yet.
    expect(await editor.run("lens.send", { verdict: "approve" })).toBeNull();
    expect(editor.messages.at(-1)).toMatch(/draft/);
    expect(await editor.run("lens.send", {})).toBe("Your review is sent.");
    await editor.until("a.txt", ([one]) => one?.message.includes("1 answer, the last by ben Example."));
  });

  it("is asked in a terminal as a server is, also beside an editor: lists, text, and a review by a form", async () => {
    const served = spawnSync("pgrep", ["-f", "lens.mjs here --tied"]).stdout.toString().trim();
    // What is read alone is read by the command itself: nobody serves for it.
    const door = join(placeOf("ann"), ".git", "lens", "here", "door.json");
    rmSync(door, { force: true });
    expect(lens("ann", "list", "state:going")).toContain("topic");
    expect(existsSync(door)).toBe(false);
    // Where it is served already that is asked.
    const env = { ...process.env, INIT_CWD: placeOf("ann") };
    const here = spawn(process.execPath, [join(root, "dist/lens.mjs"), "here"], { cwd: placeOf("ann"), env });
    await new Promise((resolve) => here.stdout.once("data", resolve));
    expect(lens("ann", "show", "1")).toMatch(/Change set 1, “topic”, draft, at r1\nby .*from topic into main/);
    const form = lens("ann", "text", "1");
    const lines = form.split("\n");
    const at = lines.findIndex((line) => line.startsWith("> +") && line.endsWith("  2"));
    const file = join(folder, "form.txt");
    writeFileSync(file, [...lines.slice(0, at + 1), "", "By hand.", "", ...lines.slice(at + 1)].join("\n"));
    expect(lens("ann", "send", file)).toContain("Sent: 1 remark.");
    expect(lens("ann", "send", file)).toContain("not sent twice");
    expect(lens("ann", "show", "1")).toContain("2 threads open.");
    git("ann", "checkout", "--quiet", "-b", "another", "main");
    writeFileSync(join(placeOf("ann"), "b.txt"), "b\n");
    git("ann", "add", "--all");
    git("ann", "commit", "--quiet", "-m", "Another");
    expect(lens("ann", "new")).toMatch(/Change set 2: http:\/\/127\.0\.0\.1/);
    expect(lens("ann", "gate", "2")).toContain("approval");
    expect(lens("ann", "desk")).toContain("Another");
    // An editor that came in by that goes on when it is ended.
    git("ann", "checkout", "--quiet", "topic");
    const editor = await open("ann");
    await editor.until("a.txt", (all) => all.length === 2);
    here.kill();
    await new Promise((resolve) => here.once("close", resolve));
    const more = { path: "a.txt", start: 3, end: 3, body: "Still here." };
    await expect
      .poll(() => editor.run("lens.remark", more), { timeout: 60_000, interval: 500 })
      .toBe("Kept, and not sent yet.");
    await editor.close();
    editors.pop();
    // Nobody is left behind who serves it.
    await expect.poll(() => spawnSync("pgrep", ["-f", "lens.mjs here --tied"]).stdout.toString().trim()).toBe(served);
  });

  it("is written to by a command alone: the ledger has it when that ends, and two at once lose nothing", async () => {
    clone("cy");
    const door = join(placeOf("cy"), ".git", "lens", "here", "door.json");
    git("cy", "checkout", "--quiet", "-b", "from-cy", "origin/main");
    writeFileSync(join(placeOf("cy"), "c.txt"), "c\n");
    git("cy", "add", "--all");
    git("cy", "commit", "--quiet", "-m", "From the train");
    const [, number] = /^Change set (\d+): lens here shows it\.\n$/.exec(lens("cy", "new")) ?? [];
    expect(lens("cy", "new")).toMatch(/offers? .*already|already/);
    const entries = () => {
      const refs = git("cy", "for-each-ref", "--format=%(refname)", "refs/lens/ledger").split("\n").filter(Boolean);
      return refs.map((ref) => git("cy", "log", "--format=%s", ref)).join("\n");
    };
    const before = entries();
    expect(before).toContain("opened by cy Example");
    const say = (words: string) => {
      const form = lens("cy", "text", number).split("\n");
      const at = form.findIndex((line) => line.startsWith("> +"));
      const file = join(folder, `${words}.txt`);
      writeFileSync(file, [...form.slice(0, at + 1), "", words, "", ...form.slice(at + 1)].join("\n"));
      const env = { ...process.env, INIT_CWD: placeOf("cy") };
      const child = spawn(process.execPath, [join(root, "dist/lens.mjs"), "send", file], { cwd: placeOf("cy"), env });
      return new Promise<number | null>((resolve) => child.once("close", resolve));
    };
    expect(await Promise.all([say("First"), say("Second")])).toEqual([0, 0]);
    expect(lens("cy", "show", number)).toContain("2 threads open.");
    expect(entries().split("\n").length).toBeGreaterThan(before.split("\n").length + 1);
    expect(existsSync(door)).toBe(false);
    expect(lens("cy", "sync")).toContain("In step with origin.");
  });

  it("goes on with what the clone has while its server is away, begins nothing of its own, and is back with the server", async () => {
    const reviews = git("ben", "for-each-ref", "refs/lens/ledger");
    const server = createServer((request, response) => {
      response.setHeader("content-type", "application/json");
      response.end(
        JSON.stringify(request.url === "/api/health" ? { well: true } : { lines: [], count: 0, next: null }),
      );
    });
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    const { port } = server.address() as AddressInfo;
    await new Promise((resolve) => server.close(resolve));
    git("ben", "remote", "set-url", "origin", `http://x:y@127.0.0.1:${port}/git/quay.git`);
    const editor = await open("ben");
    await expect
      .poll(() => editor.messages.join(), { timeout: 60_000 })
      .toContain("Going on with this clone by itself");
    const [shown] = await editor.until("a.txt", (all) => all.length > 0);
    expect(shown.message).toContain("Is that shorter?");
    // On a branch that nothing is said about there is nothing, and nothing is begun.
    git("ben", "checkout", "--quiet", "-b", "another");
    await editor.until("a.txt", (all) => all.length === 0);
    await expect.poll(() => editor.messages.join()).toContain("No open change set offers another.");
    expect(git("ben", "for-each-ref", "refs/lens/ledger")).toBe(reviews);
    await new Promise<void>((resolve) => server.listen(port, "127.0.0.1", resolve));
    await expect.poll(() => editor.messages.join(), { timeout: 60_000 }).toContain("The server is back");
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  });

  it("says why where a clone cannot be served, and shows nothing", async () => {
    mkdirSync(placeOf("cy"), { recursive: true });
    execFileSync("git", ["init", "--quiet", placeOf("cy")]);
    git("cy", "config", "user.email", "");
    const editor = await open("cy");
    await expect
      .poll(() => editor.messages.join(), { timeout: 30_000 })
      .toMatch(/cannot be served by itself: .*git does not know who you are/);
    expect(await editor.run("lens.send", {})).toBeNull();
  });
});
