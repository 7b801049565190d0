import { join } from "node:path";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { newest } from "@/core/review/state";
import { story } from "@/server/testing/story";
import { Bench, reason, value } from "../testing/bench";
import { sendForm, textForm } from "./text-form";

const it = story();

let bench: Bench;
const LINES = Array.from({ length: 30 }, (_, i) => `line ${i + 1}\n`);

beforeAll(async () => {
  bench = await Bench.set();
  const folder = await bench.repository("quay", {
    main: [
      {
        "a.txt": LINES.join(""),
        "old.ts": "export const depth = 1;\nexport const width = 2;\nexport const rest = 3;\n",
      },
    ],
    topic: [
      {
        "a.txt": LINES.with(3, "LINE 4\n").toSpliced(20, 1).join(""),
        "old.ts": null,
        "new.ts": "export const depth = 1;\nexport const width = 2;\nexport const rest = 4;\n",
        "odd.txt": "a\u202Eb\n",
        "long.txt": `a${"x".repeat(3_000_000)}z\n`,
        "wide.txt": `${"y".repeat(9_000)}\n`.repeat(120),
        "big.txt": Array.from({ length: 5_000 }, (_, i) => `n ${i}\n`).join(""),
      },
    ],
  });
  await bench.takeIn("quay", folder);
  for (const [name, role] of [
    ["ada", "contributor"],
    ["ben", "contributor"],
    ["kit", "keeper"],
    ["rea", "reader"],
  ] as const)
    await bench.person(name, { quay: role });
  await bench.person("out");
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

const form = async (by: string, path?: string) =>
  value(await textForm(bench.app, bench.people.get(by)!, "quay", 1, { path }));
const send = async (by: string, text: string, strict = true) =>
  sendForm(bench.app, bench.people.get(by)!, "quay", 1, text, { strict });
const change = async () => (await bench.change("quay", 1)).change;

function under(text: string, words: string | RegExp, said: string): string {
  const lines = text.split("\n");
  const at = lines.findIndex((line) => (typeof words === "string" ? line.includes(words) : words.test(line)));
  if (at < 0) throw new Error(`${words} is not in the form`);
  return [...lines.slice(0, at + 1), ...said.split("\n"), ...lines.slice(at + 1)].join("\n");
}

describe("a change set as text", () => {
  it("shows every changed line with its numbers, what is left out, and no odd character as itself", async () => {
    const text = await form("ben");
    expect(text).toMatch(/^> - 4\s+line 4$/m);
    expect(text).toMatch(/^> \+\s+4 {2}LINE 4$/m);
    expect(text).toMatch(/^> -21\s+line 21$/m);
    expect(text).toContain("⟨U+202E⟩");
    expect(text).not.toContain("\u202E");
    expect(text).toMatch(/== file new\.ts\n> {4}It was old\.ts and is new\.ts/);
    expect(text).toContain("5,000 changed lines: lens text … --file big.txt");
    expect(text).toMatch(/^> \+\s+1 {2}ax{9999}… \[and 2,990,002 more characters\]$/m);
    expect(text).toContain("120 changed lines: lens text … --file wide.txt");
    expect(text.length).toBeLessThan(200_000);
    expect((await form("ben", "wide.txt")).match(/^> \+\s+\d+ {2}y{9000}$/gm)).toHaveLength(120);
    expect((await form("ben", "big.txt")).match(/^> \+/gm)).toHaveLength(5_000);
    expect(await form("ada")).not.toContain("verdict");
    expect(reason(await textForm(bench.app, bench.people.get("out")!, "quay", 1))).toMatch(/no repository/);
  });

  it("is sent as one review: verdict, word, remarks on both sides, a suggestion, a task; and once only", async () => {
    let text = (await form("ben")).replace("\nverdict: none\n", "\nverdict: request-changes\n\nNearly.\n");
    text = under(text, /^> -21/, "Why is it gone?");
    text = under(text, /^> \+\s+4 /, "suggest:\n  line four");
    text = under(text, /rest = 4/, "task: @kit: tell the pilots\naside\nFour?");
    text = under(text, /rest = 3/, "It was three.");
    expect(value(await send("ben", text))).toEqual({
      says: ["Sent: your request for changes, 4 remarks, 1 task."],
      problems: [],
    });
    const { threads, reviews, tasks } = await change();
    expect(reviews).toMatchObject([{ verdict: "request-changes", remark: "Nearly.", revision: 1 }]);
    expect(tasks).toMatchObject([{ body: "tell the pilots", person: bench.people.get("kit")!.id }]);
    expect(threads.map(({ anchor, comments, weight }) => [anchor, comments[0].body, weight])).toMatchObject([
      [{ path: "a.txt", side: "new", start: 4, text: ["LINE 4"] }, "", "settle"],
      [{ path: "a.txt", side: "old", start: 21, text: ["line 21"] }, "Why is it gone?", "settle"],
      [{ path: "old.ts", side: "old", start: 3 }, "It was three.", "settle"],
      [{ path: "new.ts", side: "new", start: 3 }, "Four?", "aside"],
    ]);
    expect(threads[0].suggestions).toMatchObject([{ was: ["LINE 4"], lines: ["  line four"] }]);
    expect(value(await send("ben", text)).says).toEqual(["This was sent already, and is not sent twice."]);
    expect((await change()).threads).toHaveLength(4);
  });

  it("answers and resolves by what is written under a thread", async () => {
    let text = await form("ada");
    text = under(text, "Why is it gone?", "It was never there.");
    expect(value(await send("ada", text)).says).toEqual(["Sent: 1 answer."]);
    text = under(await form("ben"), "It was never there.", "resolve");
    expect(value(await send("ben", text)).says).toEqual(["A thread is resolved."]);
    const thread = (await change()).threads.find(({ comments }) => comments[0].body === "Why is it gone?");
    expect(thread?.comments.map(({ body }) => body)).toEqual(["Why is it gone?", "It was never there."]);
    expect(thread?.resolved).not.toBeNull();
  });

  it("tells all that is wrong with its line, and sends nothing of it", async () => {
    const before = (await change()).threads.length;
    let text = await form("ben");
    text = under(text, /^> \+\s+4 /, "task: @nobody: x");
    text = under(text, /big\.txt: |changed lines: lens/, "Much.");
    text = under(text, /^> -21/, "suggest:\n  x");
    text = text.replace("\nverdict: none", "\nverdict: aprove");
    const { says, problems } = value(await send("ben", text));
    expect(says).toEqual([]);
    expect(problems.map((one) => one.says)).toEqual([
      expect.stringMatching(/no verdict/),
      expect.stringMatching(/there afterwards/),
      expect.stringMatching(/not shown/),
    ]);
    const known = text
      .replace("verdict: aprove", "verdict: none")
      .replace("Much.", "")
      .replace(/suggest:\n {2}x/, "");
    expect(value(await send("ben", known)).problems).toMatchObject([
      { says: expect.stringMatching(/nobody of the name/) },
    ]);
    expect(value(await send("ben", await form("ben"))).problems).toMatchObject([
      { says: "Nothing is written in it yet." },
    ]);
    expect((await change()).threads).toHaveLength(before);
  });

  it("goes no way around who may say what: one's own, a reader's, an earlier revision's, another change set's", async () => {
    const approve = async (by: string) => (await form(by)).replace("\nverdict: none\n", "\nverdict: approve\n");
    expect(reason(await send("rea", await approve("rea")))).toMatch(/verdict needs a contributor/);
    const own = value(await send("ada", `verdict: approve\n${await form("ada")}`));
    expect(own.problems).toMatchObject([{ line: 1, says: expect.stringMatching(/for others to give/) }]);
    const early = await approve("kit");
    await bench.git(join(bench.folder, "work", "quay"), "checkout", "--quiet", "topic");
    await bench.commit(join(bench.folder, "work", "quay"), "more", { "a.txt": LINES.with(3, "LINE FOUR\n").join("") });
    await bench.push("ada", "quay", "topic", "refs/heads/topic");
    expect(newest(await change()).number).toBe(2);
    expect(reason(await send("kit", early))).toMatch(/r2 has come since/);
    // A remark on what one read still stands where it was written.
    const late = under(early.replace("\nverdict: approve\n", "\nverdict: none\n"), /^> \+\s+4 /, "On the first one.");
    expect(value(await send("kit", late)).says).toEqual(["Sent: 1 remark."]);
    expect((await change()).threads.at(-1)?.anchor).toMatchObject({ revision: 1, path: "a.txt", start: 4 });
    const other = (await form("kit")).replace("change set 1 of quay", "change set 2 of quay");
    expect(reason(await send("kit", other))).toMatch(/form for change set 2/);
    expect(reason(await send("kit", "Looks fine to me"))).toMatch(/first line is missing/);
  });

  it("takes what is written under a line that is shown in part, and no more waits for a form than who asked", async () => {
    expect((await send("ben", under(await form("ben"), /^> \+\s+1 {2}ax/, "Is that one line?"))).ok).toBe(true);
    expect((await change()).threads.at(-1)?.anchor).toMatchObject({ path: "long.txt", start: 1, end: 1 });
    const signal = AbortSignal.abort();
    await expect(textForm(bench.app, bench.people.get("ben")!, "quay", 1, { signal })).rejects.toThrow(/abort/);
  });

  it("takes a file that was asked for by name, whole", async () => {
    const text = under(await form("kit", "big.txt"), /n 4711$/, "Here.");
    expect(value(await send("kit", text)).says).toEqual(["Sent: 1 remark."]);
    expect((await change()).threads.at(-1)?.anchor).toMatchObject({ path: "big.txt", start: 4_712 });
  });
});
