import { execFile, spawn } from "node:child_process";
import { chmodSync, existsSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { House, type Visitor } from "./house";

/** A review from a clone: the commands as people call them, against the served application, with an editor of their own. */
let house: House;
let rosa: Visitor;
let token: string;
let clone: string;

beforeAll(async () => {
  house = await House.open();
  rosa = await house.visitor();
  await rosa.signIn("rosa");
  const made = await rosa.ask("POST", "/api/tokens", { label: "terminal", scopes: ["read", "write", "git"] });
  ({ token } = made.body as { token: string });
  clone = join(house.folder, "clone");
  await run("git", [
    "clone",
    "--quiet",
    `${house.address.replace("//", `//rosa:${token}@`)}/git/berth-planner.git`,
    clone,
  ]);
}, 120_000);
afterAll(() => house?.close());

function run(
  command: string,
  args: string[],
  env: Record<string, string> = {},
  input = "",
): Promise<{ code: number; out: string; err: string }> {
  return new Promise((resolve) => {
    const cwd = existsSync(clone ?? "") ? clone : house.folder;
    const child = execFile(command, args, { cwd, env: { ...process.env, ...env } }, (error, out, err) =>
      resolve({ code: typeof error?.code === "number" ? error.code : error ? 1 : 0, out, err }),
    );
    // A command that ends before it has read everything is no fault of the test.
    child.stdin?.on("error", () => undefined).end(input);
  });
}

const root = process.env.LENS_ROOT ?? process.cwd();
const lens = (args: string[], env: Record<string, string> = {}, input = "") =>
  run(process.execPath, [join(root, "dist/lens.mjs"), ...args], { INIT_CWD: clone, LENS_TOKEN: token, ...env }, input);

/** An editor that does to a file what a script of sed says, and counts how often it was opened. */
function editor(script: string): Record<string, string> {
  const file = join(house.folder, "editor.sh");
  writeFileSync(file, `#!/bin/sh\nsed -i '${script}' "$1"\n`);
  chmodSync(file, 0o755);
  return { EDITOR: file, VISUAL: "" };
}

describe("from a terminal", () => {
  it("lists, shows, and tells how things stand, also for programs", async () => {
    expect((await lens(["desk"])).out).toMatch(/^Waits for you: \d+ change sets\.\n {2}berth-planner/);
    const keeper = { LENS_TOKEN: (await house.lens("person", "token", "mirela")).split("\n").at(-1) ?? "" };
    expect((await lens(["desk"], keeper)).out).toMatch(
      /^Edition \d of the rules of tide-tables counts when a second keeper agrees: you can, on its page\.\nWaits for/,
    );
    const shown = await lens(["show", "3", "--json"]);
    expect(JSON.parse(shown.out).change).toMatchObject({ number: 3, source: "pilot-hold" });
    expect((await lens(["show", "3"])).out).toContain("by Anders Lindqvist, from pilot-hold into main");
    expect((await lens(["checks", "3"])).out).toMatch(/^passed {3}words/);
    expect((await lens(["show", "99"])).err).toBe("There is no change set 99 in berth-planner.\n");
    expect((await lens(["completion", "fish"])).out).toContain("-a review");
  });

  it("sends what was written in an editor, as one review, which the page shows", async () => {
    const script = "s/^verdict: none/&\\n\\nRead on the train./; /HoldRefused\\(/a Written in an editor.";
    const sent = await lens(["review", "3"], editor(script.replace("\\(", "")));
    expect([sent.out, sent.err]).toEqual([expect.stringMatching(/^Sent: \d+ remarks?/), ""]);
    await rosa.go("/r/berth-planner/c/3");
    await rosa.see("Read on the train.");
    const { out } = await lens(["text", "3"]);
    expect(out).toContain("Written in an editor.");
    expect(existsSync(join(clone, ".git/lens-review-3.txt"))).toBe(false);
  });

  it("keeps what was typed where something is wrong, says so at its line, and goes on from there", async () => {
    const wrong = await lens(["review", "3"], editor("s/^verdict: none/verdict: perhaps\\n\\nKept./"));
    expect(wrong.code).toBe(1);
    expect(wrong.err).toMatch(/lens-review-3\.txt:\d+: “perhaps” is no verdict/);
    const draft = join(clone, ".git/lens-review-3.txt");
    expect(readFileSync(draft, "utf8")).toMatch(/> !! “perhaps” is no verdict.*\nverdict: perhaps\n\nKept\./);
    const right = await lens(["review", "3"], editor("s/^verdict: perhaps/verdict: none/"));
    expect(right).toMatchObject({ code: 0, out: "Sent: your word.\n", err: expect.stringContaining("Goes on with") });
    expect(existsSync(draft)).toBe(false);
    const none = await lens(["review", "3"], editor(""));
    expect(none.out).toBe("Nothing was written, and nothing is sent.\n");
    // The server is gone: what was typed is not.
    const url = (await run("git", ["remote", "get-url", "origin"])).out.trim();
    const text = (await lens(["text", "3"])).out.replace("\nverdict: none", "\nverdict: none\n\nOffline.");
    writeFileSync(draft, text);
    await run("git", ["remote", "set-url", "origin", url.replace(/:\d+\/git/, ":9/git")]);
    const away = await lens(["review", "3"], editor("s/Offline/Still offline/"));
    await run("git", ["remote", "set-url", "origin", url]);
    expect(away.err).toContain("what you wrote is kept in");
    expect(readFileSync(draft, "utf8")).toContain("Still offline.");
  });

  it("sends a file, says what is wrong in it, and says no to a token that may not", async () => {
    const file = join(house.folder, "r.txt");
    writeFileSync(file, (await lens(["text", "3"])).out.replace("\nverdict: none", "\nverdit: none"));
    const wrong = await lens(["send", file]);
    expect([wrong.code, wrong.err]).toEqual([1, expect.stringMatching(/r\.txt:\d+: “verdit:” means nothing here/)]);
    const reading = await rosa.ask("POST", "/api/tokens", { label: "reads", scopes: ["read"] });
    const weak = (reading.body as { token: string }).token;
    expect((await lens(["send", "-"], { LENS_TOKEN: weak }, readFileSync(file, "utf8"))).err).toMatch(/may not write/);
  });

  it("offers the branch that is checked out", async () => {
    await run("git", ["switch", "--quiet", "-c", "winter-rates"]);
    writeFileSync(join(clone, "tariff", "night.ts"), "export const NIGHT = 2;\n");
    await run("git", ["add", "."]);
    await run("git", [
      "-c",
      "user.name=R",
      "-c",
      "user.email=r@x.example",
      "commit",
      "--quiet",
      "-m",
      "A tariff for the night",
    ]);
    const made = await lens(["new", "--draft"]);
    expect(made.out).toMatch(/^Change set 10: http.*\/r\/berth-planner\/c\/10\n$/);
    expect((await lens(["show", "10"])).out).toMatch(/“A tariff for the night”, draft, at r1/);
    expect((await lens(["merge", "10"])).err).toMatch(/draft|not met/);
    // One's own has no verdict to give.
    expect((await lens(["text", "10"])).out).not.toMatch(/^verdict/m);
  });

  it("reads the reviews that the clone has, asking no server", async () => {
    expect((await lens(["ledger"])).out).toContain("No review is kept here");
    await run("git", ["fetch", "--quiet", "origin", "refs/lens/ledger/*:refs/lens/ledger/*"]);
    const url = (await run("git", ["remote", "get-url", "origin"])).out.trim();
    await run("git", ["remote", "set-url", "origin", "http://127.0.0.1:9/git/gone.git"]);
    expect((await lens(["ledger"], { LENS_TOKEN: "" })).out).toMatch(
      / 3 {2}open {6}Hold a berth until the pilot confirms\n/,
    );
    const { out } = await lens(["ledger", "3"], { LENS_TOKEN: "" });
    expect(out).toContain("Rosa Vance: Written in an editor.");
    expect(out).not.toContain("do not count");
    const { change, leftOut } = JSON.parse((await lens(["ledger", "3", "--json"])).out);
    expect([change.number, leftOut]).toEqual([3, []]);
    const [key] = /[0-9a-f]{32}/.exec((await lens(["ledger"])).err)!;
    await run("git", ["config", "--add", "lens.ledgerKey", key]);
    expect(await lens(["ledger", "3"])).toMatchObject({ code: 0, err: "" });
    await run("git", ["config", "lens.ledgerKey", key.replace(/./g, "0")]);
    expect((await lens(["ledger", "3"])).err).toContain("No review of change set 3");
    await run("git", ["config", "--unset", "lens.ledgerKey"]);
    expect((await lens(["ledger", "3", "--keys", "none"])).err).toContain("No review of change set 3");
    await run("git", ["remote", "set-url", "origin", url]);
  });

  it("reads and reviews in the clone alone: without a server, an account or a copy", async () => {
    await run("git", ["config", "user.name", "Rosa Vance"]);
    await run("git", ["config", "user.email", "rosa@harbour.example"]);
    const child = spawn(process.execPath, [join(root, "dist/lens.mjs"), "here"], {
      cwd: clone,
      env: { ...process.env, INIT_CWD: clone, LENS_ROOT: root, NODE_ENV: "production" },
      stdio: ["ignore", "pipe", "inherit"],
    });
    try {
      const address = await new Promise<string>((resolve) => {
        let said = "";
        child.stdout.on("data", (words) => {
          said += words;
          const [found] = /http:\/\/127\.0\.0\.1\S+#\S+/.exec(said) ?? [];
          if (found) resolve(found);
        });
      });
      const reader = await house.visitor();
      await reader.page.goto(address);
      await reader.see("winter-rates");
      await reader.see("1 line to read in 1 file.");
      // What was said here is given to another repository by a button, and is in step with it then, from the terminal as well.
      const other = `${clone}-other.git`;
      await run("git", ["init", "--quiet", "--bare", other]);
      await run("git", ["remote", "add", "other", other]);
      await reader.page.goto(reader.page.url().replace(/\/c\/.*$/, ""));
      await reader.press("Give and take with other");
      await reader.see("In step with other.");
      expect((await run("git", ["--git-dir", other, "for-each-ref", "refs/lens/ledger"])).out).toMatch(
        /refs\/lens\/ledger\//,
      );
      // The reviews of the server lie here as well, and count for nothing until somebody says whose key that is.
      const { out } = await lens(["sync", "other"]);
      expect(out).toMatch(
        /^Not believed: \d+ entries of .*Anders Lindqvist.*signed by [0-9a-f]{32}.*\nIn step with other\.\n$/,
      );
      const stranger = await house.visitor();
      await stranger.page.goto(address);
      await stranger.see("This address has been used");
      await stranger.page.goto(`${new URL(address).origin}/sign-in`);
      expect(await stranger.text()).not.toContain("This installation is empty");
      // What is committed since is read when it is begun again; nothing stands in the working tree.
      expect((await run("git", ["status", "--porcelain"])).out).toBe("");
      expect(reader.errors).toEqual([]);
    } finally {
      child.kill("SIGTERM");
      await new Promise((resolve) => child.once("exit", resolve));
    }
  });
});
