import { afterAll, beforeAll, describe, expect } from "vitest";
import type { Anchor } from "@/core/anchor/anchor";
import type { Unsent } from "@/core/views/api";
import { story } from "@/server/testing/story";
import { rebuild } from "@/store/log";
import { COMMAND_LINE } from "../access/audit";
import { bearerOf, dropToken, makeToken, tokensOf } from "../access/tokens";
import { markRead } from "../reading/read-marks";
import { progressOf } from "../reading/reading";
import { Bench, reason, value } from "../testing/bench";
import { changeOfCommit } from "./changes";
import { transact } from "./deciding";
import { keepImage, keptImage } from "./images";
import { pick, pickedOf } from "./revisions/taking";
import { keepUnsent, unsentOf } from "./unsent";

const it = story();

let bench: Bench;
let work: string;
const TEXT = Array.from({ length: 12 }, (_, i) => `line ${i + 1}`);
const text = (lines: string[], end = "\n") => lines.map((line) => line + end).join("");

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [{ "a.txt": text(TEXT), "same.txt": "stays\n" }],
    topic: [{ "a.txt": text(TEXT.with(3, "LINE 4")), "crlf.txt": text(TEXT, "\r\n"), "dir/deep.txt": "x\ny\n" }],
  });
  await bench.takeIn("quay", work);
  for (const [name, role] of [
    ["ada", "contributor"],
    ["ben", "contributor"],
    ["kit", "keeper"],
  ] as const)
    await bench.person(name, { quay: role });
  await bench.person("out");
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

let last = 0;
/** Leaves a remark with a suggestion, and gives the ids of both. */
async function suggest(
  by: string,
  path: string,
  start: number,
  lines: string[],
  end = start,
): Promise<{ thread: string; suggestion: string }> {
  const id = `note-${String(++last).padStart(8, "0")}`;
  const note = await remark(by, id, { kind: "lines", ...(await at(path)), side: "new", start, end }, [
    { id: `sug-${id}`, start, end, lines },
  ]);
  value(note);
  return { thread: id, suggestion: `sug-${id}` };
}

async function at(path: string) {
  const { change, folder } = await bench.change("quay", 1);
  const revision = change.revisions.length;
  return {
    revision,
    path,
    blob: await bench.git(folder, "rev-parse", `${change.revisions[revision - 1].head}:${path}`),
  };
}

async function remark(
  by: string,
  id: string,
  anchor: Parameters<typeof keepUnsent>[5] extends infer R ? (R extends { anchor: infer A } ? A : never) : never,
  suggestions: { id: string; start: number; end: number; lines: string[] }[] = [],
) {
  const { change, folder } = await bench.change("quay", 1);
  const request = { kind: "remark" as const, anchor, body: "See.", weight: "settle" as const, suggestions };
  return keepUnsent(bench.app, bench.people.get(by)!, change, folder, id, request);
}

const send = (by: string, revision: number) =>
  bench.do(by, "quay", 1, { kind: "send-review", revision, verdict: "none", remark: "" });
const pickBy = async (by: string, which: { thread: string; suggestion: string }, picked = true) =>
  pick(bench.app, bench.people.get(by)!, (await bench.change("quay", 1)).change, { ...which, picked });

describe("a remark", () => {
  it("stands on lines, a part of one, a file that did not change, a commit, or the whole; and nowhere else", async () => {
    const { change } = await bench.change("quay", 1);
    const [{ head, base }] = change.revisions;
    const a = await at("a.txt");
    const lines = { kind: "lines" as const, side: "new" as const, ...a, start: 4, end: 4 };
    const positions = async (anchor: Parameters<typeof remark>[2]) => {
      const kept: Unsent = value(await remark("ben", `stand-${++last}-0000`, anchor));
      return kept.kind === "remark" ? kept.anchor : null;
    };
    expect(await positions({ ...lines, part: { from: 0, to: 4 } })).toMatchObject({
      text: ["LINE 4"],
      part: { to: 4 },
    });
    expect(await positions({ kind: "lines", side: "new", ...(await at("same.txt")), start: 1, end: 1 })).toMatchObject({
      text: ["stays"],
    });
    expect(await positions({ kind: "file", side: "new", ...a })).toMatchObject({
      kind: "file",
    } satisfies Partial<Anchor>);
    expect(await positions({ kind: "commit", revision: 1, commit: head })).toMatchObject({ commit: head });
    expect(await positions({ kind: "change", revision: 1 })).toEqual({ kind: "change", revision: 1 });
    const refused = async (anchor: Parameters<typeof remark>[2]) =>
      reason(await remark("ben", "refused-00001", anchor));
    expect(await refused({ kind: "commit", revision: 1, commit: base })).toMatch(/not one of r1/);
    expect(await refused({ kind: "change", revision: 9 })).toMatch(/no revision r9/);
    expect(await refused({ ...lines, part: { from: 2, to: 99 } })).toMatch(/within that one line/);
    expect(await refused({ ...lines, end: 5, part: { from: 0, to: 1 } })).toMatch(/within that one line/);
    expect(await refused({ kind: "file", side: "new", ...a, path: "no.txt" })).toMatch(/not in r1 in that state/);
    const sent = value(await send("ben", 1));
    expect(sent.threads.map(({ anchor }) => anchor.kind)).toEqual(["lines", "lines", "file", "commit", "change"]);
    for (const { id } of sent.threads) value(await bench.do("ada", "quay", 1, { kind: "resolve", thread: id }));
  });

  it("is sent by itself without the others, and once when it is asked twice with one key", async () => {
    await suggest("ben", "a.txt", 6, ["six"]);
    const alone = await suggest("ben", "a.txt", 7, ["seven"]);
    const one = { kind: "send-one" as const, note: alone.thread, key: "key-1" };
    const before = value(await bench.do("ben", "quay", 1, one)).threads.length;
    expect(value(await bench.do("ben", "quay", 1, one)).threads).toHaveLength(before);
    const ben = bench.people.get("ben")!;
    const { change } = await bench.change("quay", 1);
    expect((await unsentOf(bench.app.db, ben, change.id)).map(({ id }) => id)).not.toContain(alone.thread);
    expect(await unsentOf(bench.app.db, ben, change.id)).toHaveLength(1);
    // A window in which it is still open does not make it anew: the next review would carry it once more, and be refused.
    expect(reason(await remark("ben", alone.thread, { kind: "change", revision: 1 }))).toMatch(/was sent already/);
    expect(await unsentOf(bench.app.db, ben, change.id)).toHaveLength(1);
    const reply = { kind: "reply" as const, thread: alone.thread, body: "Once.", key: "key-2" };
    value(await bench.do("ada", "quay", 1, reply));
    value(await bench.do("ada", "quay", 1, reply));
    const thread = (await bench.change("quay", 1)).change.threads.find(({ id }) => id === alone.thread);
    expect(thread?.comments.map(({ body }) => body)).toEqual(["See.", "Once."]);
  });

  it("waits in a thread, too: goes out with the review, or by itself as one that never waited", async () => {
    const [first, second] = (await bench.change("quay", 1)).change.threads;
    const keep = async (id: string, thread: string, body: string, resolves = false) => {
      const { change, folder } = await bench.change("quay", 1);
      return keepUnsent(bench.app, bench.people.get("ada")!, change, folder, id, {
        kind: "reply",
        thread,
        body,
        resolves,
      });
    };
    expect(reason(await keep("waiting-0001", "nowhere", "Hm."))).toMatch(/no such thread/);
    value(await keep("waiting-0001", first.id, "It"));
    expect(reason(await keep("waiting-0002", first.id, "Twice"))).toMatch(/is being written already/);
    expect(value(await keep("waiting-0001", first.id, "It silts up."))).toMatchObject({
      kind: "reply",
      thread: first.id,
    });
    value(await keep("waiting-0003", second.id, "Done."));
    // Nobody else sees it.
    const { change } = await bench.change("quay", 1);
    expect(await unsentOf(bench.app.db, bench.people.get("ben")!, change.id)).not.toContainEqual(
      expect.objectContaining({ kind: "reply" }),
    );
    value(await bench.do("ada", "quay", 1, { kind: "send-one", note: "waiting-0003" }));
    const said = async (thread: string) =>
      (await bench.change("quay", 1)).change.threads.find(({ id }) => id === thread)?.comments.at(-1)?.body;
    expect(await said(second.id)).toBe("Done.");
    expect(await said(first.id)).not.toBe("It silts up.");
    const sent = value(
      await bench.do("ada", "quay", 1, { kind: "send-review", revision: 1, verdict: "none", remark: "" }),
    );
    expect(sent.threads.find(({ id }) => id === first.id)?.comments.at(-1)?.body).toBe("It silts up.");
    expect(
      (await unsentOf(bench.app.db, bench.people.get("ada")!, change.id)).filter(({ kind }) => kind === "reply"),
    ).toEqual([]);
  });
});

describe("suggestions", () => {
  it("are picked by the author alone, and taken in one commit that credits who made them", async () => {
    value(await send("ben", 1));
    const crlf = await suggest("kit", "crlf.txt", 2, ["two", "and a half"]);
    const deep = await suggest("kit", "dir/deep.txt", 2, []);
    const clash = await suggest("kit", "crlf.txt", 1, ["one"], 3);
    expect(reason(await pickBy("ada", crlf))).toMatch(/no longer there/);
    value(await send("kit", 1));
    const six = (await bench.change("quay", 1)).change.threads.find(({ suggestions }) => suggestions[0]?.start === 6)!;
    const mine = { thread: six.id, suggestion: six.suggestions[0].id };
    expect(reason(await pickBy("ben", crlf))).toMatch(/Only the author/);
    for (const which of [crlf, deep, clash, mine]) value(await pickBy("ada", which));
    const take = (message = "Take what was found\n") => bench.do("ada", "quay", 1, { kind: "take", message });
    expect(reason(await take())).toMatch(/want the same line/);
    value(await pickBy("ada", clash, false));
    expect(reason(await take(" "))).toMatch(/message of the commit is empty/);
    const taken = value(await take());
    expect(taken.revisions).toHaveLength(2);
    const { folder } = await bench.change("quay", 1);
    const { head } = taken.revisions[1];
    expect(await bench.git(folder, "rev-parse", "refs/heads/topic")).toBe(head);
    expect(await bench.git(folder, "log", "-1", "--format=%an %P", head)).toBe(
      `ada Example ${taken.revisions[0].head}`,
    );
    expect(await bench.git(folder, "log", "-1", "--format=%B", head)).toBe(
      "Take what was found\n\nCo-authored-by: ben Example <ben@x.example>\nCo-authored-by: kit Example <kit@x.example>",
    );
    expect(await bench.git(folder, "diff", "--stat", "--no-color", `${head}^`, head)).toMatch(/3 files changed/);
    const bytes = await bench.git(folder, "show", `${head}:crlf.txt`);
    expect(bytes.split("\n").slice(0, 4)).toEqual(["line 1\r", "two\r", "and a half\r", "line 3\r"]);
    expect(await bench.git(folder, "show", `${head}:dir/deep.txt`)).toBe("x");
    const state = (id: string) => taken.threads.find((thread) => thread.id === id);
    expect(state(crlf.thread)).toMatchObject({
      suggestions: [{ taken: { revision: 2 } }],
      resolved: { by: expect.any(String) },
    });
    expect(state(clash.thread)).toMatchObject({ suggestions: [{ taken: null }], resolved: null });
    expect(await bench.git(folder, "fsck", "--no-dangling")).toBe("");
    // The lines of the one that was put back are not what they were.
    value(await pickBy("ada", clash));
    expect(reason(await take())).toMatch(/have changed since r1/);
    expect((await bench.change("quay", 1)).change.revisions).toHaveLength(2);
    value(await pickBy("ada", clash, false));
  });

  it("are picked as they stood: what became of one, by whichever way, and another of the same name are not picked", async () => {
    const mine = await suggest("ben", "a.txt", 12, ["twelve"]);
    value(await send("ben", (await bench.change("quay", 1)).change.revisions.length));
    const [ada, ben] = ["ada", "ben"].map((name) => bench.people.get(name)!);
    const now = async () => {
      const { change } = await bench.change("quay", 1);
      const thread = change.threads.find(({ id }) => id === mine.thread)!;
      const picked = await pickedOf(bench.app.db, ada, change);
      return { change, thread, picked: picked.map(({ suggestion }) => suggestion.lines[0]) };
    };
    const edit = async (lines: string[]) => {
      const { thread } = await now();
      const [{ id: suggestion, start, end }] = thread.suggestions;
      const edited = { id: suggestion, start, end, lines };
      const words = { thread: thread.id, comment: thread.comments[0].id, body: "See now." };
      value(await bench.do("ben", "quay", 1, { kind: "edit", ...words, suggestions: [edited] }));
    };
    value(await pickBy("ada", mine));
    // A remark that says something else with the same suggestion leaves it picked.
    await edit(["twelve"]);
    expect((await now()).picked).toEqual(["twelve"]);
    await edit(["rm -rf"]);
    expect((await now()).picked).toEqual([]);
    // Who had the old one on the screen cannot pick it any more.
    expect(reason(await pickBy("ada", mine))).toMatch(/no longer there/);
    // An entry from a clone can keep the name of what it makes another.
    const { thread, change } = await now();
    const [{ taken: _, ...made }] = thread.suggestions;
    value(await pickBy("ada", { thread: thread.id, suggestion: made.id }));
    expect((await now()).picked).toEqual(["rm -rf"]);
    const words = { thread: thread.id, comment: thread.comments[0].id, body: "Look." };
    const sly = { kind: "edit" as const, ...words, suggestions: [{ ...made, lines: ["sly"] }] };
    value(await transact(bench.app, ben, change.id, sly, {}));
    expect((await now()).thread.suggestions[0]).toMatchObject({ id: made.id, lines: ["sly"] });
    expect((await now()).picked).toEqual([]);
    expect(reason(await bench.do("ada", "quay", 1, { kind: "take", message: "m" }))).toMatch(/picked/);
    value(await pickBy("ada", { thread: thread.id, suggestion: made.id }, false));
    value(await bench.do("ben", "quay", 1, { kind: "erase", thread: thread.id, comment: thread.comments[0].id }));
  });

  it("are not taken over a branch that has moved meanwhile", async () => {
    const late = await suggest("ben", "a.txt", 12, ["twelve"]);
    value(await send("ben", 2));
    value(await pickBy("ada", late));
    const { folder, change } = await bench.change("quay", 1);
    await bench.git(folder, "update-ref", "refs/heads/topic", change.revisions[0].head);
    expect(reason(await bench.do("ada", "quay", 1, { kind: "take", message: "m" }))).toMatch(/has moved since r2/);
    await bench.git(folder, "update-ref", "refs/heads/topic", change.revisions[1].head);
    value(await bench.do("ada", "quay", 1, { kind: "take", message: "m" }));
  });
});

describe("beside the threads", () => {
  it("tells how far each person has come, and rebuilds the lists as they were", async () => {
    const { change, folder } = await bench.change("quay", 1);
    const ben = bench.people.get("ben")!;
    const { head, base } = change.revisions.at(-1)!;
    const id = async (commit: string, path: string) => bench.git(folder, "rev-parse", `${commit}:${path}`);
    const mark = {
      path: "a.txt",
      oldId: await id(base, "a.txt"),
      newId: await id(head, "a.txt"),
      revision: 3,
      read: true,
    };
    await markRead(bench.app, ben, change, folder, mark);
    const progress = await progressOf(bench.app, change, folder);
    expect(progress[ben.id].read).toBe(6);
    expect(progress[ben.id].total).toBeGreaterThan(progress[ben.id].read);
    const lists = async () => [
      await bench.app.db.selectFrom("change_sets").selectAll().execute(),
      await bench.app.db.selectFrom("change_set_people").selectAll().orderBy("person").execute(),
    ];
    const before = await lists();
    await bench.app.db.transaction().execute((tx) => rebuild(tx));
    expect(await lists()).toEqual(before);
  });

  it("keeps pictures by what they are, for the people of their repository", async () => {
    const [ada, out] = [bench.people.get("ada")!, bench.people.get("out")!];
    const png = Buffer.from(
      "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
      "base64",
    );
    const { address } = value(await keepImage(bench.app, ada, "quay", png));
    const id = address.split("/").at(-1)!;
    expect(value(await keptImage(bench.app, ada, "quay", id))).toMatchObject({ type: "image/png" });
    expect(reason(await keptImage(bench.app, out, "quay", id))).toMatch(/no repository/);
    for (const bad of ["<svg xmlns='http://www.w3.org/2000/svg' onload='x()'/>", "<html>", "GIF"])
      expect(reason(await keepImage(bench.app, ada, "quay", Buffer.from(bad)))).toMatch(/not an image/);
  });

  it("finds the change set of a commit, and the person of a token", async () => {
    const [ada, out] = [bench.people.get("ada")!, bench.people.get("out")!];
    const { change } = await bench.change("quay", 1);
    const [{ head, base }] = change.revisions;
    expect(value(await changeOfCommit(bench.app, ada, "quay", head.slice(0, 9)))).toEqual({ number: 1, commit: head });
    expect(reason(await changeOfCommit(bench.app, ada, "quay", base))).toMatch(/in no change set/);
    expect(reason(await changeOfCommit(bench.app, ada, "quay", "--all"))).toMatch(/no such commit/);
    expect(reason(await changeOfCommit(bench.app, out, "quay", head))).toMatch(/no repository/);
    const token = value(await makeToken(bench.app, "ada", { label: "laptop" }, COMMAND_LINE));
    const who = async (header: string) => (await bearerOf(bench.app, header))?.person.name;
    const basic = (name: string) => `Basic ${Buffer.from(`${name}:${token}`).toString("base64")}`;
    expect(await who(`Bearer ${token}`)).toBe("ada");
    expect(await who(basic("ada"))).toBe("ada");
    const [{ id }] = await tokensOf(bench.app, ada);
    expect(reason(await dropToken(bench.app, out, id, COMMAND_LINE))).toMatch(/no such token of yours/);
    for (const wrong of [basic("ben"), "Bearer x", `Bearer ${token}x`, "", token])
      expect(await who(wrong)).toBeUndefined();
    value(await dropToken(bench.app, ada, id, COMMAND_LINE));
    expect(await who(`Bearer ${token}`)).toBeUndefined();
    expect(await tokensOf(bench.app, ada)).toEqual([]);
  });
});
