import { spawn } from "node:child_process";
import { join } from "node:path";
import type { Duplex } from "node:stream";
import { expect, it } from "vitest";
import type { AppContext } from "../../app/context";
import { answerHooks } from "./hooks";

const BEGUN = { person: "ada", from: "127.0.0.1", repository: "quay" };
/** Nothing of it is asked. */
const APP = {} as AppContext;
const root = process.env.LENS_ROOT ?? process.cwd();

/** A hook as git starts it, told of some moves; `serve` is given the channel that it has. */
async function hook(moves: string, serve: ((channel: Duplex) => void) | null, env: Record<string, string> = {}) {
  const process_ = spawn(join(root, "hooks/pre-receive"), {
    env: { ...process.env, ...(serve ? { LENS_HOOK: "3" } : {}), ...env },
    stdio: ["pipe", "pipe", "pipe", ...(serve ? (["pipe"] as const) : [])],
  });
  serve?.(process_.stdio[3] as Duplex);
  let said = "";
  process_.stderr?.on("data", (words: Buffer) => {
    said += words;
  });
  // Where it ends before it has read everything.
  process_.stdin?.on("error", () => undefined);
  process_.stdin?.end(moves);
  const code = await new Promise<number | null>((resolve) => process_.once("exit", resolve));
  return { code, said: said.trim() };
}

it("refuses where no server started git, and where it is gone", async () => {
  expect(await hook("", null)).toEqual({ code: 1, said: "Pushes go through the server of Earnest Lens." });
  const goes = (channel: Duplex) => channel.once("data", () => channel.end());
  expect(await hook("", goes)).toEqual({ code: 1, said: "The server could not be asked." });
});

it("tells of options and moves as they are, whatever they hold", async () => {
  const options = ["title=$(exit 9) `exit 9` \"'\\0\\", "", "description=one\ntwo · drei"];
  const env = Object.fromEntries(options.map((option, i) => [`GIT_PUSH_OPTION_${i}`, option]));
  const moves = "a b refs/heads/one\na b refs/heads/zwölf $HOME\n";
  let told = "";
  const serve = (channel: Duplex) =>
    channel.on("data", (words: Buffer) => {
      told += words;
      if (told.endsWith("\n\0")) channel.write(" No: `exit 0` \\n\n  \n1\n");
    });
  const { code, said } = await hook(moves, serve, { ...env, GIT_PUSH_OPTION_COUNT: "3" });
  expect(told.split("\0")).toEqual(["pre-receive", "3", ...options, moves, ""]);
  expect({ code, said }).toEqual({ code: 1, said: "No: `exit 0` \\n" });
});

it("refuses a push that tells of more than can be held, and takes no harm", async () => {
  const moves = `${"a".repeat(40)} ${"b".repeat(40)} refs/heads/x\n`.repeat(40_000);
  const { code, said } = await hook(moves, (channel) => answerHooks(APP, channel, BEGUN));
  expect({ code, said }).toEqual({ code: 1, said: "A push tells of at most a million bytes of refs and options." });
});
