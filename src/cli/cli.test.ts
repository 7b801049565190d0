import { existsSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, describe, expect, vi } from "vitest";
import { gitText } from "@/git/run";
import { story } from "@/server/testing/story";
import { checkSettings, main } from "./main";

const it = story();

const folder = mkdtempSync(join(tmpdir(), "lens-cli-"));
const work = join(folder, "work");

/** Runs the command as a person would, and gives its exit code, which folder it says it works on, and what else it said. */
async function app(...args: string[]): Promise<{ code: number; out: string; err: string; where: string }> {
  const said = { out: "", err: "" };
  const hear = (where: "out" | "err") => (words: string | Uint8Array, done?: unknown) => {
    said[where] += Buffer.from(words as Uint8Array).toString();
    if (typeof done === "function") done();
    return true;
  };
  vi.spyOn(process.stdout, "write").mockImplementation(hear("out") as typeof process.stdout.write);
  vi.spyOn(process.stderr, "write").mockImplementation(hear("err") as typeof process.stderr.write);
  try {
    const code = await main(args);
    const [where = ""] = /^With the data in .*\n/.exec(said.err) ?? [];
    return { code, out: said.out, err: said.err.slice(where.length), where };
  } finally {
    vi.restoreAllMocks();
  }
}

async function workGit(...args: string[]): Promise<string> {
  const env = { GIT_AUTHOR_NAME: "T", GIT_AUTHOR_EMAIL: "t@x", GIT_COMMITTER_NAME: "T", GIT_COMMITTER_EMAIL: "t@x" };
  return gitText(null, ["-C", work, ...args], { env });
}

beforeAll(async () => {
  vi.stubEnv("LENS_DATA", join(folder, "data"));
  vi.stubEnv("LENS_LOG", "silent");
  vi.stubEnv("INIT_CWD", folder);
  await gitText(null, ["init", "--quiet", "--initial-branch=main", work]);
  writeFileSync(join(work, "a.txt"), "one\ntwo\n");
  await workGit("add", "--all");
  await workGit("commit", "--quiet", "-m", "first");
  writeFileSync(join(work, "a.txt"), "one\n2\n");
  await workGit("commit", "--quiet", "-am", "second");
});
afterEach(() => vi.restoreAllMocks());
afterAll(() => {
  vi.unstubAllEnvs();
  rmSync(folder, { recursive: true, force: true });
});

describe("the lens command", () => {
  it("explains itself, and every part of itself", async () => {
    expect((await app("--help")).out).toMatch(/repo .*\n.*role[\s\S]*LENS_DATA[\s\S]*first installation/i);
    for (const part of ["repo", "role", "rule", "person", "group", "label", "diff", "rebuild", "serve"])
      expect((await app(part, "--help")).out).toContain("Usage: lens");
    expect((await app("launch")).code).toBe(1);
    expect(checkSettings({ PORT: "http" })).toBe("PORT is not a number from 1 to 65535. It is “http”.");
    expect(checkSettings({})).toBeNull();
  });

  it("takes a repository in by a path from where one stands, and refuses with one sentence and exit code 1", async () => {
    // A folder without an installation is most likely the wrong one, and stays as it is.
    expect(await app("repo", "list")).toMatchObject({
      code: 1,
      err: expect.stringMatching(/^There is no installation in/),
    });
    expect(existsSync(join(folder, "data"))).toBe(false);
    expect((await app("person", "add", "gauge", "--machine", "--full-name", "Gauge")).code).toBe(0);
    expect((await app("repo", "list")).where).toBe(`With the data in ${join(folder, "data")}\n`);
    expect(await app("repo", "list")).toMatchObject({ code: 0, out: expect.stringMatching(/no repository yet/) });
    expect(await app("repo", "add", "planner", "work")).toMatchObject({
      code: 0,
      out: expect.stringMatching(/Took planner in: 1 branch, main by default/),
    });
    expect(await app("repo", "add", "planner", "work")).toMatchObject({
      code: 1,
      out: "",
      err: "There is a repository of the name “planner” already.\n",
    });
    expect((await app("repo", "add", "other", "nowhere")).err).toMatch(/^There is nothing at .*nowhere\.\n$/);
    expect((await app("repo", "list")).out).toBe("planner\tmain\n");
    expect((await app("repo", "fetch", "planner")).out).toBe("Nothing new.\n");
    writeFileSync(join(work, "b.txt"), "b\n");
    await workGit("add", "--all");
    await workGit("commit", "--quiet", "-m", "third");
    expect((await app("repo", "fetch", "planner")).out).toBe("main: moved on\n");
  });

  it("keeps groups and labels, as the pages do", async () => {
    const set = ["group", "set", "crew", "--members", "gauge"];
    expect((await app(...set, "--role", "reader:planner")).out).toBe("crew is kept.\n");
    expect((await app("group", "list")).out).toBe("crew\tgauge\treader in planner\n");
    expect((await app(...set, "--role", "king:planner")).code).toBe(1);
    expect((await app("group", "set", "crew", "--members", "ada")).err).toMatch(/Nobody has the name ada/);
    expect((await app("group", "drop", "crew")).out).toBe("crew is no group any more.\n");
    expect((await app("group", "drop", "crew")).err).toMatch(/no group/);
    const label = await app("label", "set", "planner", "Tides", "--about", "Tables", "--paths", "tides/**", "*.md");
    expect(label.out).toBe("tides is kept.\n");
    expect((await app("label", "set", "planner", "a b")).err).toMatch(/small letters, digits and dashes/);
    expect((await app("label", "set", "planner", "x", "--flag", "skull")).code).toBe(1);
    expect((await app("label", "list", "planner")).out).toBe("tides\tTables\ttides/** *.md\n");
    expect((await app("label", "drop", "planner", "tides")).code).toBe(0);
    expect((await app("label", "list", "planner")).out).toBe("");
    expect((await app("label", "list", "nowhere")).err).toMatch(/no repository of the name/);
  });

  it("refuses roles and rules that make no sense", async () => {
    expect((await app("role", "set", "ada", "planner", "king")).err).toMatch(/There is no role “king”/);
    expect((await app("role", "set", "ada", "planner", "keeper")).err).toMatch(/nobody of the name “ada”/);
    expect((await app("rule", "set", "planner", "main", "--approvals", "two")).err).toMatch(/whole number/);
    expect((await app("rule", "set", "planner", "main", "--approvals", "2")).out).toMatch(
      /^main of planner asks for 2 approvals\.\nmain: 2 approvals can never be given as things are/,
    );
    const { out } = await app("rule", "export", "planner");
    expect(JSON.parse(out)).toMatchObject({
      version: 1,
      rules: [{ branches: "main", approvals: { count: 2 } }, { branches: "**" }],
    });
    writeFileSync(join(folder, "rules.json"), out.replace('"count": 2', '"count": 0'));
    expect((await app("rule", "import", "planner", "rules.json", "--note", "Alone")).out).toMatch(
      /^Edition 3 of the rules of planner counts from now on\./,
    );
    writeFileSync(join(folder, "bad.json"), '{"rules":[{"branches":"main","linear":true}]}');
    expect((await app("rule", "import", "planner", "bad.json")).err).toMatch(/^main: a linear history cannot be kept/);
    expect((await app("rule", "import", "planner", "work/a.txt")).err).toMatch(/is not JSON/);
    expect((await app("rebuild")).out).toBe("Made the lists again from the log: no change sets.\n");
  });

  it("compares two commits as a patch, as the reading and in summary, without an installation", async () => {
    const { out, err } = await app("diff", "work", "HEAD~2", "HEAD");
    expect(err).toBe("");
    expect(out).toContain("--- a/a.txt\n+++ b/a.txt\n@@ -1,2 +1,2 @@\n one\n-two\n+2\n");
    expect((await app("diff", "work", "HEAD~2", "HEAD", "--path", "b.txt")).out).not.toContain("a.txt");
    const reading = JSON.parse((await app("diff", "work", "HEAD~2", "HEAD", "--format", "json")).out);
    expect(reading).toMatchObject({
      changed: 3,
      toRead: 3,
      files: [{ path: "a.txt" }, { path: "b.txt", status: "added" }],
    });
    expect((await app("diff", "work", "HEAD~2", "HEAD", "--format", "summary")).out).toMatch(
      /^2 files, 3 changed lines, 3 to read\.\n/,
    );
    expect((await app("diff", "work", "HEAD~9", "HEAD")).err).toMatch(/has no commit “HEAD~9”/);
    expect((await app("diff", "data", "a", "b")).err).toMatch(/is not a git repository/);
    expect((await app("diff", "work", "HEAD", "HEAD", "--format", "html")).err).toMatch(/no format “html”/);
  });
});
