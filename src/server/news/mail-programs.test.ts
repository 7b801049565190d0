import { execFile } from "node:child_process";
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { promisify } from "node:util";
import { simpleParser } from "mailparser";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { story } from "@/server/testing/story";
import { findRepository } from "../access/repositories";
import { patchAddress } from "../git-access/patch-address";
import { Bench, value } from "../testing/bench";
import { Mail } from "./mail";
import { listenForMail } from "./mail-listener";
import { type StandIn, startStandIn } from "./mail-standin";

const it = story();
const execute = promisify(execFile);

/** Two people who work by mail alone: the author sends series by `git send-email`, the reviewer reads and answers in neomutt, both as they are. */
let bench: Bench;
let standIn: StandIn;
let listener: { port: number; close: () => Promise<void> };
let mail: Mail;
let work: string;
let arrived: string;

const present =
  existsSync("/usr/bin/neomutt") && existsSync("/usr/bin/script") && existsSync("/usr/lib/git-core/git-send-email");

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", { main: [{ "a.txt": "one\ntwo\nthree\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  arrived = join(bench.folder, "mail");
  standIn = await startStandIn(arrived, 0);
  const from = "lens@lens.example";
  Object.assign(bench.app.settings, { mail: standIn.server, mailFrom: from, mailAnswers: "answers@lens.example" });
  listener = await listenForMail(bench.app, 0);
  mail = new Mail(bench.app, { server: standIn.server, from, address: "http://lens.example", quiet: 0 });
  await mail.step();
});
afterAll(async () => {
  await mail.stop();
  await listener.close();
  await standIn.close();
  await bench.clear();
});

const change = async () => (await bench.change("quay", 1)).change;

/** Sends the commits of `topic` that `main` has not, as `git send-email` does without asking anything. */
async function sendSeries(...args: string[]): Promise<void> {
  const ada = bench.people.get("ada")!;
  const to = (await patchAddress(bench.app, ada, (await findRepository(bench.app.db, "quay"))!))!;
  const server = ["--smtp-server=127.0.0.1", `--smtp-server-port=${listener.port}`, "--smtp-domain=x.example"];
  const quietly = ["--confirm=never", "--quiet", "--suppress-cc=all", `--to=${to}`, "--from=Ada <ada@x.example>"];
  const env = { ...process.env, HOME: bench.folder, GIT_CONFIG_GLOBAL: "/dev/null" };
  await execute("git", ["send-email", ...server, ...quietly, ...args, "main..topic"], { cwd: work, env });
}

/** Puts the last message to somebody into a mailbox of its own, where a mail program finds it new. */
async function mailbox(name: string, part = ""): Promise<string> {
  const folder = join(bench.folder, `box-${readdirSync(bench.folder).length}`);
  for (const part of ["cur", "new", "tmp"]) mkdirSync(join(folder, part), { recursive: true });
  const messages = readdirSync(arrived).filter((one) => one.endsWith(".eml"));
  for (const message of messages.sort().reverse()) {
    const { to } = await simpleParser(readFileSync(join(arrived, message)));
    if (JSON.stringify(to).includes(`${name}@x.example`)) {
      copyFileSync(join(arrived, message), join(folder, "new", message));
      return join(folder, part);
    }
  }
  throw new Error(`There is no message to ${name}.`);
}

/** Answers the last message to somebody in neomutt. What they type is put under the first quoted line that holds the words before it. */
async function answer(name: string, typed: Record<string, string>): Promise<void> {
  const box = await mailbox(name);
  const editor = join(box, "editor.mjs");
  writeFileSync(
    editor,
    `import { readFileSync, writeFileSync } from "node:fs";
const file = process.argv.at(-1);
let lines = readFileSync(file, "utf8").split("\\n");
for (const [words, said] of Object.entries(${JSON.stringify(typed)})) {
  const at = lines.findIndex((line) => line.startsWith("> ") && line.includes(words));
  if (at < 0) throw new Error("No such line: " + words);
  lines = [...lines.slice(0, at + 1), "", said, "", ...lines.slice(at + 1)];
}
writeFileSync(file, lines.join("\\n"));
`,
  );
  const settings = {
    ...{ editor: `${process.execPath} ${editor}`, smtp_url: `smtp://127.0.0.1:${listener.port}` },
    ...{ from: `${name}@x.example`, realname: name, hostname: "x.example", record: "", signature: "" },
    ...{
      folder: box,
      header_cache: "",
      tmpdir: box,
      pager_stop: "no",
      wait_key: "no",
      ssl_starttls: "no",
      ssl_force_tls: "no",
    },
    ...{ autoedit: "yes", fast_reply: "yes", include: "yes", reply_to: "yes", edit_headers: "no", copy: "no" },
    ...{ abort_unmodified: "no", abort_nosubject: "no", abort_noattach: "no", move: "no", delete: "no", quit: "yes" },
  };
  const file = join(box, "muttrc");
  const lines = Object.entries(settings).map(([key, to]) => `set ${key}="${to}"`);
  writeFileSync(file, `${lines.join("\n")}\npush "<first-entry><reply><send-message><exit>"\n`);
  const env = { ...process.env, HOME: box, TERM: "xterm", LC_ALL: "C.UTF-8" };
  const program = execute("script", ["-qec", `neomutt -n -F "${file}" -f "${box}"`, "/dev/null"], { env });
  program.child.stdin?.end();
  await program;
}

describe.skipIf(!present)("a whole round by mail alone", () => {
  it("begins with a series sent by git, which is asked to be read", async () => {
    await bench.git(work, "checkout", "--quiet", "-b", "topic");
    await bench.commit(work, "Say two as a number\n\nIt is shorter.", { "a.txt": "one\n2\nthree\n" });
    await bench.commit(work, "Say three as a number", { "a.txt": "one\n2\n3\n" });
    await sendSeries();
    expect(await change()).toMatchObject({ author: bench.people.get("ada")!.id, revisions: [{ number: 1 }] });
    value(await bench.do("ada", "quay", 1, { kind: "ask", invited: [{ person: bench.people.get("ben")!.id }] }));
    await mail.step();
  });

  it("goes on with remarks and a verdict, written under their lines in neomutt", async () => {
    await answer("ben", { "2  2": "Why not two?", "verdict: none": "verdict: request-changes\n\nNearly there." });
    const { reviews, threads } = await change();
    expect(reviews).toMatchObject([{ verdict: "request-changes", remark: "Nearly there." }]);
    expect(threads).toMatchObject([{ anchor: { path: "a.txt", start: 2 }, comments: [{ body: "Why not two?" }] }]);
  });

  it("is answered by the author in neomutt, and by the second version of the series", async () => {
    await mail.step();
    await answer("ada", { "Why not two?": "You are right." });
    expect((await change()).threads[0].comments.map(({ body }) => body)).toEqual(["Why not two?", "You are right."]);
    await bench.commit(work, "Say two as a word again", { "a.txt": "one\ntwo\n3\n" });
    await sendSeries("-v2");
    expect((await change()).revisions).toHaveLength(2);
  });

  it("ends with the approval of what was sent last, and a merge that its rules allow", async () => {
    await mail.step();
    const [message] = readdirSync(await mailbox("ben", "new"));
    const { text } = await simpleParser(readFileSync(join(arrived, message)));
    // What he has seen is not there again.
    expect(text).toMatch(/^> change set 1 of quay, r2 since r1 /m);
    expect(text).toMatch(/^> -2 {4}2$\n^> \+ {2}2 {2}two$\n^> {2}3 {1}3 {2}3$/m);
    await answer("ben", { "2  two": "Thank you.\naside", "verdict: none": "verdict: approve" });
    const now = await change();
    expect(now.reviews.at(-1)).toMatchObject({ verdict: "approve", revision: 2 });
    expect(now.threads[1]).toMatchObject({ weight: "aside", anchor: { start: 2, revision: 2, text: ["two"] } });
    value(await bench.do("ben", "quay", 1, { kind: "resolve", thread: now.threads[0].id }));
    value(await bench.do("ada", "quay", 1, { kind: "merge", revision: 2, message: "Merge" }));
    expect((await change()).state).toBe("merged");
  });
});
