import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect } from "vitest";
import type { LineAnchor } from "@/core/anchor/anchor";
import type { AnchorPosition } from "@/core/anchor/anchor-history";
import { wholeView } from "@/core/doors/endpoints/change-view";
import { newest } from "@/core/review/state";
import { blobAt } from "@/git/repository";
import { story } from "@/server/testing/story";
import { historiesOf } from "../../following/anchor-histories";
import { findChanges } from "../../house/lists/find";
import { sizesOf } from "../../reading/sizes";
import { Bench, reason, value } from "../../testing/bench";
import { transact } from "../deciding";
import { desk } from "../desk";
import { keepUnsent } from "../unsent";
import { changeParts } from "../views";
import { pick } from "./taking";

const it = story();

let bench: Bench;
let work: string;

const HEAD = ["import { tide } from './tide';", "", "export function open(gate: Gate) {", "  gate.swing(90);", "}", ""];
const TAIL = ["export function close(gate: Gate) {", "  gate.swing(0);", "  gate.lock('main basin');", "}", ""];
const FIRST = [...HEAD, ...TAIL, "export const HINGES = 2;", "export const WINTER = 'closed in ice';"];
const SECOND = ["// gates of the basin", ...HEAD, "export const HINGES = 4;"];
const text = (lines: string[]) => `${lines.join("\n")}\n`;

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [
      {
        "a.ts": "const a = 1;\n",
        "old.ts": text(["// an old gate", "export const OLD = true;", "export const RUSTY = 7;"]),
      },
    ],
    topic: [{ "gate.ts": text(FIRST), "old.ts": text(["// an old gate", "export const RUSTY = 7;"]) }],
    side: [{ "side.ts": "side\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  await bench.person("rea", { quay: "reader" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

async function push(branch: string): Promise<void> {
  const { folder } = await bench.change("quay", 1);
  await bench.git(folder, "fetch", "--quiet", work, `+refs/heads/${branch}:refs/heads/${branch}`);
}

async function remark(side: "old" | "new", path: string, line: string, suggest?: string, by = "ben"): Promise<string> {
  const { change, folder } = await bench.change("quay", 1);
  const revision = newest(change);
  const commit = side === "new" ? revision.head : revision.base;
  const blob = (await blobAt(folder, commit, path))!;
  const lines = (await bench.git(folder, "cat-file", "blob", blob)).split("\n");
  const start = lines.indexOf(line) + 1;
  const id = bench.app.newId();
  const anchor: Omit<LineAnchor, "text"> = {
    kind: "lines",
    revision: revision.number,
    blob,
    side,
    path,
    start,
    end: start,
  };
  const suggestions = suggest ? [{ id: bench.app.newId(), start, end: start, lines: [suggest] }] : [];
  const note = { kind: "remark" as const, anchor, body: `about ${line}`, weight: "settle" as const, suggestions };
  value(await keepUnsent(bench.app, bench.people.get(by)!, change, folder, id, note));
  return id;
}

/** As it is once all is followed: on a busy machine a page asks twice. */
async function view(by: string) {
  const { change } = await bench.change("quay", 1);
  const repository = { id: change.repository, name: "quay" } as never;
  for (;;) {
    const seen = wholeView(await changeParts(bench.app, bench.people.get(by)!, repository, change));
    if (!seen.following) return seen;
  }
}
async function reasons(by: string): Promise<string[]> {
  for (;;) {
    const { forMe, counting } = await desk(bench.app, bench.people.get(by)!);
    if (!counting) return forMe.flatMap((line) => line.reasons);
  }
}

describe("a thread over several revisions", () => {
  it("is told at each of them where its lines went, across files and a rebase, and again after a restart", async () => {
    for (const line of [
      "  gate.lock('main basin');",
      "export const HINGES = 2;",
      "export const WINTER = 'closed in ice';",
    ])
      await remark("new", "gate.ts", line, line.includes("lock") ? "  gate.lock('the main basin');" : undefined);
    await remark("new", "gate.ts", "  gate.swing(90);");
    await remark("old", "old.ts", "export const OLD = true;");
    value(
      await bench.do("ben", "quay", 1, { kind: "send-review", revision: 1, verdict: "request-changes", remark: "" }),
    );
    await remark("new", "gate.ts", "  gate.lock('main basin');", undefined, "kit");
    await remark("new", "gate.ts", "export const WINTER = 'closed in ice';", undefined, "kit");
    await bench.git(work, "checkout", "--quiet", "topic");
    await bench.commit(work, "apart", { "gate.ts": text(SECOND), "closing.ts": text(["// closing", ...TAIL]) });
    await push("topic");
    value(await bench.do("ada", "quay", 1, { kind: "revise" }));
    await bench.git(work, "checkout", "--quiet", "main");
    await bench.commit(work, "meanwhile", {
      "old.ts": text(["// an old gate", "", "export const OLD = true;", "export const RUSTY = 7;"]),
      "a.ts": "const a = 2;\n",
    });
    await bench.git(work, "checkout", "--quiet", "topic");
    await bench.git(work, "rebase", "--quiet", "-X", "theirs", "main");
    await push("main");
    await push("topic");
    value(await bench.do("ada", "quay", 1, { kind: "revise" }));

    const told = async () => {
      const { change, folder } = await bench.change("quay", 1);
      const histories = await historiesOf(bench.app, folder, change);
      return change.threads.map(
        ({ id }) =>
          histories[id]?.positions.map(
            ({ revision, status, path, start }: AnchorPosition) => `r${revision} ${status} ${path} ${start}`,
          ) ?? [],
      );
    };
    const expected = [
      ["r2 moved closing.ts 4"],
      ["r2 edited gate.ts 8"],
      ["r2 gone gate.ts 13"],
      ["r2 shifted gate.ts 5"],
      ["r3 shifted old.ts 3"],
    ];
    // Told also while nothing of it can be kept.
    const full =
      "create trigger full before insert on anchor_histories begin select raise(fail, 'database or disk is full'); end";
    await sql.raw(full).execute(bench.app.db);
    expect(await told()).toEqual(expected);
    expect(await bench.app.db.selectFrom("anchor_histories").selectAll().execute()).toEqual([]);
    await sql`drop trigger full`.execute(bench.app.db);
    await bench.app.close();
    await bench.start();
    expect(await told()).toEqual(expected);
    expect(await bench.app.db.selectFrom("anchor_histories").selectAll().execute()).toHaveLength(expected.length);
    await bench.app.close();
    await bench.start();
    expect(await told()).toEqual(expected);
  });

  it("is no other with what is not sent, which nobody else is told of", async () => {
    const { unsent, histories } = await view("kit");
    const told = unsent.map(({ id }) => histories[id]?.positions);
    expect(told).toMatchObject([
      [{ revision: 2, status: "moved", path: "closing.ts", start: 4 }],
      [{ revision: 2, status: "gone", path: "gate.ts" }],
    ]);
    const others = (await view("ben")).histories;
    expect(unsent.filter(({ id }) => id in others)).toEqual([]);
    const kept = await bench.app.db.selectFrom("anchor_histories").select("thread").execute();
    expect(kept.filter(({ thread }) => unsent.some(({ id }) => id === thread))).toEqual([]);
  });

  it("is put to its writer as answered, as soon as it is followed, until they say something", async () => {
    await bench.app.db.deleteFrom("anchor_histories").execute();
    await bench.app.close();
    await bench.start();
    const { follow } = bench.app.workers;
    let begin: () => void = () => undefined;
    const begun = new Promise<void>((resolve) => (begin = resolve));
    bench.app.workers.follow = (task) => begun.then(() => follow(task));
    const early = await desk(bench.app, bench.people.get("ben")!);
    const isListCounting = async () =>
      value(await findChanges(bench.app, bench.people.get("ben")!, "in:quay")).counting;
    expect([early.counting, await isListCounting()]).toEqual([true, true]);
    expect(early.forMe.flatMap(({ reasons: all }) => all).join()).not.toContain("were changed");
    begin();
    const { change: followed, folder } = await bench.change("quay", 1);
    await historiesOf(bench.app, folder, followed);
    const late = await desk(bench.app, bench.people.get("ben")!);
    expect([late.counting, await isListCounting()]).toEqual([false, false]);
    expect(await reasons("ben")).toContain("The lines of 2 threads of yours were changed: answered?");
    const { change } = await bench.change("quay", 1);
    value(await bench.do("ben", "quay", 1, { kind: "reply", thread: change.threads[1].id, body: "Four is too many." }));
    expect(await reasons("ben")).toContain("The lines of 1 thread of yours were changed: answered?");
  });

  it("keeps a suggestion takeable where its line was put", async () => {
    const { change } = await bench.change("quay", 1);
    const thread = change.threads[0];
    const [{ id }] = thread.suggestions;
    value(await pick(bench.app, bench.people.get("ada")!, change, { thread: thread.id, suggestion: id, picked: true }));
    const { folder } = await bench.change("quay", 1);
    const after = value(await bench.do("ada", "quay", 1, { kind: "take", message: "As Ben says" }));
    const closing = await bench.git(folder, "show", `${newest(after).head}:closing.ts`);
    expect(closing).toContain("gate.lock('the main basin');");
    expect((await sizesOf(bench.app, after, folder)).at(-1)).toMatchObject({ files: 1, added: 1, removed: 1 });
  });
});

describe("rounds", () => {
  it("ask someone to look again, with how much is new to them, once for each revision", async () => {
    const ben = bench.people.get("ben")!.id;
    expect(reason(await bench.do("ben", "quay", 1, { kind: "ask-again", people: [ben] }))).toMatch(
      /Only the author or a keeper/,
    );
    expect((await view("ada")).lookAgain).toEqual([ben]);
    value(await bench.do("ada", "quay", 1, { kind: "ask-again", people: [ben] }));
    expect(await reasons("ben")).toContainEqual(
      expect.stringMatching(/ada Example asks you to look again, at r4: \d+ lines new to you\./),
    );
    expect(reason(await bench.do("ada", "quay", 1, { kind: "ask-again", people: [ben] }))).toMatch(
      /asked to look at r4 already/,
    );
    const kit = bench.people.get("kit")!.id;
    expect(reason(await bench.do("ada", "quay", 1, { kind: "ask-again", people: [kit] }))).toMatch(
      /Only who reviewed it before/,
    );
    value(
      await bench.do("ben", "quay", 1, {
        kind: "send-review",
        revision: 4,
        verdict: "request-changes",
        remark: "Still.",
      }),
    );
    expect((await bench.change("quay", 1)).change.again).toEqual([]);
  });

  it("let a request for changes be taken back by its writer, or lifted by a keeper who says why", async () => {
    const ben = bench.people.get("ben")!.id;
    const lift = (by: string, why: string) => bench.do(by, "quay", 1, { kind: "lift", person: ben, reason: why });
    expect(reason(await lift("ada", "He is away"))).toMatch(/or a keeper, with a reason/);
    expect(reason(await lift("kit", " "))).toMatch(/Say why/);
    value(await lift("kit", "Ben is at sea until May."));
    expect((await view("ada")).gate.conditions.find(({ key }) => key === "requests")?.met).toBe(true);
    expect(reason(await lift("ben", ""))).toMatch(/No request for changes of theirs stands/);
    value(
      await bench.do("ben", "quay", 1, {
        kind: "send-review",
        revision: 4,
        verdict: "request-changes",
        remark: "Back.",
      }),
    );
    expect((await view("ada")).gate.conditions.find(({ key }) => key === "requests")?.met).toBe(false);
    value(await lift("ben", ""));
  });

  it("begin with a draft that asks nobody and cannot merge, and with its readiness", async () => {
    const person = bench.people.get("ada")!;
    const { openChange } = await import("./opening");
    const draft = { source: "side", target: "main", title: "Aside", description: "", draft: true };
    expect(value(await openChange(bench.app, person, "quay", draft)).state).toBe("draft");
    const number = 2;
    const ben = bench.people.get("ben")!.id;
    value(await bench.do("ada", "quay", number, { kind: "ask", invited: [{ person: ben }] }));
    expect(await reasons("ben")).not.toContainEqual(expect.stringContaining("asks you to review"));
    const approve = { kind: "send-review", revision: 1, verdict: "approve", remark: "" } as const;
    expect(reason(await bench.do("ben", "quay", number, approve))).toMatch(/is a draft/);
    expect(reason(await bench.do("kit", "quay", number, { kind: "merge", revision: 1, message: "m" }))).toMatch(
      /is a draft/,
    );
    value(
      await bench.do("ben", "quay", number, {
        kind: "send-review",
        revision: 1,
        verdict: "none",
        remark: "Early word.",
      }),
    );
    expect(reason(await bench.do("ben", "quay", number, { kind: "ready" }))).toMatch(/Only the author or a keeper/);
    expect(reason(await bench.open("ada", "quay", "side"))).toMatch(/Change set 2 is already open/);
    value(await bench.do("ada", "quay", number, { kind: "ready" }));
    value(await bench.do("ben", "quay", number, approve));
    value(await bench.do("ada", "quay", number, { kind: "withdraw" }));
    value(await bench.do("ada", "quay", number, { kind: "open-again" }));
    expect((await bench.change("quay", number)).change).toMatchObject({ state: "open", settled: null });
    expect(reason(await bench.do("ada", "quay", number, { kind: "open-again" }))).toMatch(/Only what was withdrawn/);
  });

  it("follow a thread in its own change set, whichever other goes by its id", async () => {
    const told = async (number: number) => {
      await bench.app.close();
      await bench.start();
      const { change, folder } = await bench.change("quay", number);
      return historiesOf(bench.app, folder, change);
    };
    const before = await told(1);
    const { change, folder } = await bench.change("quay", 2);
    const [thread] = Object.keys(before);
    const blob = (await blobAt(folder, newest(change).head, "side.ts"))!;
    const anchor: LineAnchor = {
      ...{ kind: "lines", revision: 1, blob, side: "new", path: "side.ts" },
      ...{ start: 1, end: 1, text: ["side"] },
    };
    const remarks = [{ thread, comment: `${thread}-1`, anchor, body: "Look there, not here." }];
    const review = { kind: "send-review", revision: 1, verdict: "none", remark: "", remarks } as const;
    value(await transact(bench.app, bench.people.get("ada")!, change.id, review));
    await bench.git(work, "checkout", "--quiet", "side");
    await bench.commit(work, "two", { "side.ts": "more\nside\n" });
    await push("side");
    value(await bench.do("ada", "quay", 2, { kind: "revise" }));
    expect((await told(2))[thread].positions).toMatchObject([{ path: "side.ts", start: 2 }]);
    expect(await told(1)).toEqual(before);
  });

  it("stay in order when the clock is set back and the server starts anew", async () => {
    const before = (await bench.change("quay", 1)).change;
    bench.pass(-30 * 24 * 3_600_000);
    await bench.app.close();
    await bench.start();
    value(await bench.do("ben", "quay", 1, { kind: "reply", thread: before.threads[3].id, body: "First after that." }));
    value(await bench.do("ada", "quay", 1, { kind: "reply", thread: before.threads[3].id, body: "Second." }));
    const [first, second] = (await bench.change("quay", 1)).change.threads[3].comments.slice(-2);
    expect([first.body, second.body]).toEqual(["First after that.", "Second."]);
    bench.pass(31 * 24 * 3_600_000);
  });
});
