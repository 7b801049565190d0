import { execFileSync, spawn } from "node:child_process";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Diagnostic, Editor } from "./editor";
import { House, type Visitor } from "./house";

/** A review in an editor: the language server as editors start it, in a clone, against the served application. */
let house: House;
let anders: Visitor;
let clone: string;
let token: string;
let editor: Editor;

const root = process.env.LENS_ROOT ?? process.cwd();

const git = (...args: string[]) =>
  execFileSync("git", ["-C", clone, ...args], { stdio: ["ignore", "pipe", "ignore"] }).toString();
const lineOf = (diagnostic: Diagnostic) => diagnostic.range.start.line + 1;

beforeAll(async () => {
  house = await House.open();
  anders = await house.visitor();
  await anders.signIn("anders");
  const made = await anders.ask("POST", "/api/tokens", { label: "editor", scopes: ["read", "write", "git"] });
  ({ token } = made.body as { token: string });
  clone = join(house.folder, "clone");
  const url = `${house.address.replace("//", `//anders:${token}@`)}/git/berth-planner.git`;
  execFileSync("git", ["clone", "--quiet", "--branch", "pilot-hold", url, clone]);
  editor = await Editor.start(clone, {});
}, 120_000);
afterAll(async () => {
  await editor?.close();
  await house?.close();
});

const BOARD = "plan/board.ts";

describe("in an editor", () => {
  it("shows the threads of the branch's change set at their lines, also in files that are not open", async () => {
    const shown = await editor.until(BOARD, (all) => all.length >= 3);
    expect(shown.find(({ message }) => message.startsWith("Sunday Okoro: Say the ship"))).toMatchObject({
      severity: 2,
      range: { start: { line: 36 } },
    });
    expect(shown.find(({ source }) => source === "Gauge")).toMatchObject({ severity: 3 });
    // What was written about the text as it was stands nowhere in it.
    expect(shown.map(({ message }) => message).join()).not.toContain("Releasing leaves no trace");
    expect((await editor.hover(BOARD, 37))?.contents).toMatchObject({
      kind: "markdown",
      value: expect.stringContaining("**Sunday Okoro**"),
    });
    expect(await editor.hover(BOARD, 1)).toBeNull();
  });

  it("follows lines through what was typed and not saved, and through commits that were not pushed", async () => {
    const text = readFileSync(join(clone, BOARD), "utf8");
    await editor.open(BOARD);
    const before = lineOf(
      (await editor.until(BOARD, (all) => all.length >= 3)).find(({ message }) => message.includes("Say the ship"))!,
    );
    await editor.type(BOARD, `// one\n// 𝒯wo\n${text}`);
    const at = (all: Diagnostic[]) => all.map((one) => (one.message.includes("Say the ship") ? lineOf(one) : 0));
    await editor.until(BOARD, (all) => at(all).includes(before + 2));
    writeFileSync(join(clone, BOARD), `// three\n${text}`);
    git("-c", "user.name=A", "-c", "user.email=a@x.example", "commit", "--quiet", "-am", "local");
    await editor.type(BOARD, `// three\n${text}`);
    await editor.until(BOARD, (all) => at(all).includes(before + 1));
    const lines = text.split("\n");
    await editor.type(BOARD, [...lines.slice(0, before - 1), ...lines.slice(before)].join("\n"));
    await editor.until(BOARD, (all) => !all.some(({ message }) => message.includes("Say the ship")));
    await editor.type(BOARD, lines.with(before - 1, `${lines[before - 1]} // mended`).join("\n"));
    const mended = await editor.until(BOARD, (all) => all.some(({ message }) => message.includes("Say the ship")));
    expect(mended.find(({ message }) => message.includes("Say the ship"))?.message).toContain(
      "The lines were changed since: answered?",
    );
    await editor.type(BOARD, text);
    writeFileSync(join(clone, BOARD), text);
  });

  it("answers, remarks and suggests, as not sent, the same as on the page; and sends them", async () => {
    const thread = String(
      (await editor.until(BOARD, (all) => all.some(({ message }) => message.includes("Say the ship")))).find(
        ({ message }) => message.includes("Say the ship"),
      )!.code,
    );
    await editor.run("lens.reply", { thread });
    const { path } = editor.opened.at(-1)!;
    const file = new URL(path).pathname;
    expect(readFileSync(file, "utf8")).toMatch(/^> Write below[\s\S]*> Sunday Okoro:\n> Say the ship/);
    writeFileSync(file, `${readFileSync(file, "utf8")}It says the ship now.\n`);
    await editor.connection.sendNotification("textDocument/didOpen", {
      textDocument: { uri: path, languageId: "markdown", version: 1, text: readFileSync(file, "utf8") },
    });
    await editor.connection.sendNotification("textDocument/didSave", { textDocument: { uri: path } });
    await anders.go("/r/berth-planner/c/3");
    await expect.poll(async () => (await mine()).map(({ body }) => body)).toContain("It says the ship now.");
    expect(await editor.run("lens.remark", { path: BOARD, start: 1, end: 1, body: "From the editor." })).toMatch(
      /not sent/,
    );
    await editor.until(BOARD, (all) =>
      all.some(({ source, message }) => source === "lens, not sent" && message === "From the editor."),
    );
    const text = readFileSync(join(clone, BOARD), "utf8");
    await editor.type(BOARD, text.replace(/^import .*$/m, "$& // typed"));
    expect(await editor.run("lens.suggest", { path: BOARD, start: 1, end: 1 })).toMatch(/suggestion is kept/);
    expect(await editor.run("lens.suggest", { path: BOARD, start: 9, end: 9 })).toBeNull();
    expect(editor.messages.at(-1)).toMatch(/Nothing was typed over pushed lines/);
    await editor.type(BOARD, text);
    const notes = await mine();
    expect(notes.find(({ suggestions }) => suggestions?.length)?.suggestions?.[0].lines[0]).toContain("// typed");
    // One's own change set has no verdict to give.
    expect((await editor.actions(BOARD, 1)).map(({ title }) => title)).not.toContain("Send my review, and approve");
    expect(await editor.run("lens.send", { word: "By the editor." })).toBe("Your review is sent.");
    expect(await mine()).toEqual([]);
  });

  it("shows what others write within two seconds, resolves, and takes a suggestion as an edit", async () => {
    const rosa = await house.visitor();
    await rosa.signIn("rosa");
    const blob = git("rev-parse", `origin/pilot-hold:${BOARD}`).trim();
    const anchor = { kind: "lines", revision: 2, blob, side: "new", path: BOARD, start: 2, end: 2 };
    const suggestions = [{ id: "sug-in-editor", start: 2, end: 2, lines: ["// instead"] }];
    const API = "/api/repos/berth-planner/changes/3";
    const note = { kind: "remark", anchor, body: "Live from the page.", suggestions };
    expect(await rosa.ask("PUT", `${API}/unsent/note-in-editor-1`, note)).toMatchObject({ status: 200 });
    expect(await rosa.ask("POST", API, { kind: "send-one", note: "note-in-editor-1" })).toMatchObject({ status: 200 });
    const begun = Date.now();
    await editor.until(BOARD, (all) => all.some(({ message }) => message.includes("Live from the page.")));
    expect(Date.now() - begun).toBeLessThan(10_000);
    const actions = await editor.actions(BOARD, 2);
    const take = actions.find(({ title }) => title === "Take this suggestion");
    expect(take?.edit?.changes?.[editor.uri(BOARD)]).toEqual([
      { range: { start: { line: 1, character: 0 }, end: { line: 2, character: 0 } }, newText: "// instead\n" },
    ]);
    await editor.run("lens.resolve", { thread: "note-in-editor-1" });
    await editor.until(BOARD, (all) => !all.some(({ message }) => message.includes("Live from the page.")));
  });

  it("says who began a thread and when, behind its lines, and shows what a file’s changes are", async () => {
    const hints = await editor.hints(BOARD);
    const sundays = hints.find(({ position }) => position.line === 36);
    expect(sundays?.label).toMatch(/^Sunday Okoro, \d+ [A-Z][a-z]{2}$/);
    expect(await editor.run("lens.changes", { path: BOARD })).toContain("The changes of plan/board.ts are in");
    const shown = readFileSync(new URL(editor.opened.at(-1)!.path), "utf8");
    expect(shown).toMatch(/^diff --git a\/plan\/board\.ts b\/plan\/board\.ts$/m);
    expect(await editor.run("lens.changes", { path: "no/such.ts" })).toBeNull();
    expect(editor.messages.at(-1)).toContain("does not change no/such.ts");
  });

  it("shows what checks found under the name of their tool, at its line as it is now", async () => {
    const head = git("rev-parse", "origin/pilot-hold").trim();
    const found = "plan/board.ts:2: this is never read\nplan/board.ts:1: warning: a long word\n";
    const at = `/api/repos/berth-planner/commits/${head}/reports/spelling`;
    const headers = { authorization: `Bearer ${token}` };
    expect(await fetch(`${house.address}${at}`, { method: "POST", body: found, headers })).toMatchObject({
      status: 200,
    });
    const all = await editor.until(BOARD, (shown) => shown.some(({ message }) => message === "this is never read"));
    const mine = all.find(({ message }) => message === "this is never read");
    expect(mine).toMatchObject({ range: { start: { line: 1 } } });
    expect(mine?.source).toMatch(/\w/);
  });

  it("goes from thread to thread over all files, hides everything, and shows nothing on a branch without a change set", async () => {
    const first = await editor.run("lens.next", { path: "a", line: 1 });
    expect(first).toMatch(/^(?:plan|docs|tariff)\/.*, line \d+$/);
    expect(await editor.run("lens.previous", { path: "a", line: 1 })).not.toBe(first);
    await editor.run("lens.hide", {});
    await editor.until(BOARD, (all) => all.length === 0);
    await editor.run("lens.hide", {});
    await editor.until(BOARD, (all) => all.length > 0);
    git("checkout", "--quiet", ".");
    git("switch", "--quiet", "main");
    await editor.until(BOARD, (all) => all.length === 0);
    await expect.poll(() => editor.messages.join()).toContain("No open change set offers main.");
    expect(await editor.run("lens.send", {})).toBeNull();
    git("switch", "--quiet", "pilot-hold");
    await editor.until(BOARD, (all) => all.length > 0);
  });
});

describe("editors that people have", () => {
  it.skipIf(!existsSync("/usr/bin/nvim"))("neovim: an author’s round, with its own client", async () => {
    git("checkout", "--quiet", ".");
    const told = await inEditor("nvim", ["--headless", "--clean", "-n", "-S", join(root, "tests/browser/neovim.lua")]);
    expect(told).toMatchObject({
      came: true,
      followed: true,
      answered: "Kept, and not sent yet.",
      sent: "Your review is sent.",
    });
    expect(told.hover).toContain("**Sunday Okoro**");
    expect(told.actions).toEqual(
      expect.arrayContaining(["Answer this thread", "Resolve this thread", "Suggest what I typed here"]),
    );
    await anders.go("/r/berth-planner/c/3");
    await anders.see("Answered in neovim.");
  });

  it.skipIf(!existsSync("/usr/bin/emacs"))("emacs: sees the threads by eglot, and goes to one", async () => {
    const told = await inEditor("emacs", ["--batch", "-q", "-l", join(root, "tests/browser/eglot.el")]);
    expect(told.said).toEqual(expect.arrayContaining([expect.stringContaining("Sunday Okoro: Say the ship")]));
    expect(told.next).toMatch(/, line \d+$/);
  });
});

describe("a suggestion", () => {
  it("is taken for real as the next revision, which comes into the clone", async () => {
    git("reset", "--quiet", "--hard", "origin/pilot-hold");
    const before = git("rev-parse", "HEAD");
    const said = await editor.until(BOARD, (all) => all.some(({ message }) => message.startsWith("Sunday Okoro")));
    const line = lineOf(said.find(({ message }) => message.startsWith("Sunday Okoro"))!);
    const take = (await editor.actions(BOARD, line)).find(({ title }) => title.endsWith("as the next revision"));
    const told = await editor.run(take!.command!.command, take!.command!.arguments![0]);
    expect(told).toMatch(/^r3 takes it\. It is here, too\.$/);
    expect(git("rev-parse", "HEAD~1")).toBe(before);
    expect((await editor.actions(BOARD, line)).map(({ title }) => title)).not.toContain(take!.title);
  });
});

describe("a verdict", () => {
  it("is of what is checked out, and not of what came since", async () => {
    const rosa = await house.visitor();
    await rosa.signIn("rosa");
    const made = await rosa.ask("POST", "/api/tokens", { label: "editor", scopes: ["read", "write", "git"] });
    const hers = join(house.folder, "hers");
    const url = `${house.address.replace("//", `//rosa:${(made.body as { token: string }).token}@`)}/git/berth-planner.git`;
    execFileSync("git", ["clone", "--quiet", "--branch", "pilot-hold", url, hers]);
    const here = (...args: string[]) => execFileSync("git", ["-C", hers, ...args], { stdio: "ignore" });
    here("reset", "--hard", "HEAD~1");
    const reading = await Editor.start(hers, {});
    try {
      await reading.until(BOARD, (all) => all.length > 0);
      expect(await reading.run("lens.send", { verdict: "approve" })).toBeNull();
      expect(reading.messages.at(-1)).toContain("You read r2, and r3 has come since.");
      here("reset", "--hard", "origin/main");
      expect(await reading.run("lens.send", { verdict: "approve" })).toBeNull();
      expect(reading.messages.at(-1)).toContain("r3 is not checked out here");
      here("reset", "--hard", "origin/pilot-hold");
      expect(await reading.run("lens.send", { verdict: "approve" })).toBe("Your review is sent.");
    } finally {
      await reading.close();
    }
  });
});

/** Runs an editor on a file of the clone with a script, and gives the JSON that the script prints. */
async function inEditor(command: string, args: string[]): Promise<Record<string, unknown>> {
  const given = [clone, BOARD, join(root, "dist/lens.mjs"), process.execPath].join("|");
  const env = { ...process.env, LENS_EDITING: given, INIT_CWD: clone, LENS_TOKEN: token, HOME: house.folder };
  const child = spawn(command, args, { cwd: clone, env, stdio: ["ignore", "pipe", "pipe"] });
  let out = "";
  for (const stream of [child.stdout, child.stderr]) stream.on("data", (words) => (out += words));
  await new Promise((resolve) => child.on("close", resolve));
  const [line] = /\{.*\}/.exec(out) ?? [];
  if (!line) throw new Error(`${command} said: ${out}`);
  return JSON.parse(line);
}

async function mine(): Promise<{ body: string; suggestions?: { lines: string[] }[] }[]> {
  const { body } = await anders.ask("GET", "/api/repos/berth-planner/changes/3");
  return (body as { mine: { unsent: { body: string; suggestions?: { lines: string[] }[] }[] } }).mine.unsent;
}
