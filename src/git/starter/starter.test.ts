import { execFileSync } from "node:child_process";
import { afterEach, expect, it, vi } from "vitest";
import { GitError, git, gitEnvironment } from "../run";
import { isBetterThrough, startThrough } from "./through";

afterEach(() => void vi.restoreAllMocks());

/** Runs git through the small process; gives what it said and how it ended. */
const through = (args: string[], input: string | Uint8Array = "", then?: (stop: () => void) => void) =>
  new Promise<{ code: number; out: Buffer; err: string }>((resolve, reject) => {
    const out: Uint8Array[] = [];
    let err = "";
    const stop = startThrough(
      { args, env: gitEnvironment(), input },
      {
        out: (bytes) => out.push(bytes),
        err: (words) => {
          err += words;
        },
        ended: (code) => resolve({ code, out: Buffer.concat(out), err }),
        failed: reject,
      },
    );
    then?.(stop);
  });

it("says what git says, byte for byte, and how it ended", async () => {
  const bytes = Buffer.from(Array.from({ length: 300_000 }, (_, i) => (i * 7919) & 255));
  const here = await git(null, ["hash-object", "--stdin"], { input: bytes });
  expect(await through(["hash-object", "--stdin"], bytes)).toEqual({ code: 0, out: here.stdout, err: "" });
  const echoed = await through(["-c", "alias.say=!cat", "say"], bytes);
  expect(echoed.out.equals(bytes)).toBe(true);
  const refused = await through(["--git-dir", "/nowhere", "rev-parse", "HEAD"]);
  expect(refused).toMatchObject({ code: 128, err: expect.stringContaining("not a git repository") });
});

it("keeps what runs at the same time apart", async () => {
  const many = Array.from({ length: 20 }, (_, i) => through(["-c", "alias.say=!cat", "say"], `harbour ${i}`));
  expect((await Promise.all(many)).map(({ out }) => String(out))).toEqual(many.map((_, i) => `harbour ${i}`));
});

it("ends git when it is told to", async () => {
  const { code, out } = await through(["-c", "alias.wait=!echo begun; exec sleep 600", "wait"], "", (stop) =>
    setTimeout(stop, 300),
  );
  expect([code, String(out)]).toEqual([-1, "begun\n"]);
});

it("says why something cannot be started, which is no matter of what runs beside it", async () => {
  const beside = through(["-c", "alias.say=!sleep 0.3; cat", "say"], "harbour");
  await expect(through(["rev-parse", "a\0b"])).rejects.toThrow("null bytes");
  await expect(through(["rev-parse", "a".repeat(3_000_000)])).rejects.toThrow("E2BIG");
  expect(String((await beside).out)).toBe("harbour");
});

const pid = async () => Number((await through(["-c", "alias.who=!ps -o ppid= -p $PPID", "who"])).out);

it("is one for all that is bundled apart in a process", async () => {
  const first = await pid();
  vi.resetModules();
  const { startThrough: another } = await import("./through");
  expect(another).not.toBe(startThrough);
  const how = { args: ["-c", "alias.who=!ps -o ppid= -p $PPID", "who"], env: gitEnvironment(), input: "" };
  const out: Uint8Array[] = [];
  await new Promise<void>((resolve, reject) =>
    another(how, {
      out: (bytes) => out.push(bytes),
      err: reject,
      ended: () => resolve(),
      failed: reject,
    }),
  );
  expect(Number(Buffer.concat(out))).toBe(first);
});

it("outlives the end of the small process: what ran is told of, what comes next runs in another one", async () => {
  const first = await pid();
  const lost = through(["-c", "alias.wait=!sleep 2", "wait"]);
  const told = expect(lost).rejects.toThrow("has ended");
  execFileSync("kill", ["-KILL", String(first)]);
  await told;
  expect(await pid()).not.toBe(first);
});

it("is taken by a process that has become large, and git is the same there", async () => {
  const of = (size: number) => vi.spyOn(process.memoryUsage, "rss").mockReturnValue(size);
  of(50e6);
  expect(isBetterThrough()).toBe(false);
  of(300e6);
  expect(isBetterThrough()).toBe(true);
  expect((await git(null, ["--version"])).stdout.toString()).toMatch(/^git version/);
  await expect(git(null, ["nothing"])).rejects.toThrow(GitError);
  expect((await git(null, ["rev-parse", "HEAD"], { answers: [128] })).code).toBeOneOf([0, 128]);
  const stop = new AbortController();
  const waited = git(null, ["-c", "alias.wait=!exec sleep 600", "wait"], { signal: stop.signal });
  setTimeout(() => stop.abort(), 100);
  await expect(waited).rejects.toThrow("aborted");
  await expect(git(null, ["--version"], { signal: stop.signal })).rejects.toThrow("aborted");
});
