import { readdirSync, readFileSync } from "node:fs";
import { createServer, type Server } from "node:net";
import { join } from "node:path";
import { simpleParser } from "mailparser";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { story } from "@/server/testing/story";
import { setRole } from "../access/people";
import { keepUnsent } from "../changes/unsent";
import { Bench, value } from "../testing/bench";
import { setFollowing } from "./following";
import { Mail } from "./mail";
import { arrivedFor, arrivedMessage, type StandIn, startStandIn } from "./mail-standin";

const it = story();

let bench: Bench;
let standIn: StandIn;
let folder: string;
let mail: Mail;

const settings = (server: string) => ({
  server,
  from: "lens@x.example",
  address: "http://lens.example",
  quiet: 30_000,
});
const arrived = async () => {
  const names = readdirSync(folder)
    .filter((name) => name.endsWith(".eml"))
    .sort();
  return Promise.all(names.map((name) => simpleParser(readFileSync(join(folder, name)))));
};

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "one\ntwo\n" }],
    topic: [{ "a.txt": "one\n<b>2</b>\n" }],
  });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben", "kit"]) await bench.person(name, { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
  folder = join(bench.folder, "mail");
  standIn = await startStandIn(folder, 0);
  mail = new Mail(bench.app, settings(standIn.server));
  await mail.step();
});
afterAll(async () => {
  await mail.stop();
  await standIn.close();
  await bench.clear();
});

async function review(by: string, body: string, word = ""): Promise<string> {
  const { change, folder: git } = await bench.change("quay", 1);
  const blob = await bench.git(git, "rev-parse", `${change.revisions[0].head}:a.txt`);
  const anchor = { kind: "lines" as const, revision: 1, blob, side: "new" as const, path: "a.txt", start: 2, end: 2 };
  const note = { kind: "remark" as const, anchor, body, weight: "settle" as const, suggestions: [] };
  const id = bench.app.newId();
  value(await keepUnsent(bench.app, bench.people.get(by)!, change, git, id, note));
  const verdict = "request-changes" as const;
  value(await bench.do(by, "quay", 1, { kind: "send-review", revision: 1, verdict, remark: word }));
  return id;
}

describe("mail", () => {
  it("tells a review once, to those who have to do with it, with each remark under its lines", async () => {
    const thread = await review("ben", "Why <script>alert(1)</script>?", "Nearly.");
    await mail.step();
    await mail.step();
    const [message, ...others] = await arrived();
    expect(others).toEqual([]);
    expect(message.to).toMatchObject({ text: '"ada Example" <ada@x.example>' });
    expect(message.subject).toBe("[quay 1] Take topic: ben Example asks for changes in r1");
    expect(message.text).toContain("Nearly.");
    expect(message.text).toMatch(/a\.txt, line 2\n\n> <b>2<\/b>\n\nWhy <script>alert\(1\)<\/script>\?/);
    expect(message.text).toContain(`http://lens.example/r/quay/c/1?thread=${thread}`);
    expect(message.html).not.toMatch(/<script|<b>2/);
    expect(message.html).toContain("Why &#x3C;script");
    const head = new Map(message.headerLines.map(({ key, line }) => [key, line]));
    expect(head.get("list-id")).toMatch(/<quay\.lens\.example>/);
    expect(head.get("list-unsubscribe")).toBe("List-Unsubscribe: <http://lens.example/r/quay/c/1/mail>");
    expect(message.inReplyTo).toMatch(/^<change\..+@lens\.example>$/);
    expect(message.messageId).toMatch(/^<message\./);
  });

  it("gathers answers over a quiet time, and loses none to a mail server that is away", async () => {
    await mail.stop();
    await standIn.close();
    const { change } = await bench.change("quay", 1);
    const [thread] = change.threads;
    const answer = (body: string) => bench.do("ada", "quay", 1, { kind: "reply", thread: thread.id, body });
    value(await answer("First."));
    // Another process takes the work up where the last one left it.
    const port = Number(new URL(standIn.server).port);
    mail = new Mail(bench.app, settings(standIn.server));
    await mail.step();
    value(await answer("Second."));
    await mail.step();
    bench.pass(40_000);
    await mail.step();
    expect(await arrived()).toHaveLength(1);
    expect(
      await bench.app.db.selectFrom("messages").select(["tries", "sent_at"]).where("sent_at", "is", null).execute(),
    ).toEqual([{ tries: 1, sent_at: null }]);
    standIn = await startStandIn(folder, port);
    bench.pass(60_000);
    await mail.step();
    await mail.step();
    const messages = await arrived();
    expect(messages).toHaveLength(2);
    expect(messages[1].subject).toMatch(/2 answers$/);
    expect(messages[1].text).toMatch(/First\.[\s\S]*Second\./);
    expect(messages[1].references).toEqual(messages[0].references);
  });

  it("asks the ones it asks, is silent for those who want none, and shows each their own", async () => {
    const { change } = await bench.change("quay", 1);
    const kit = bench.people.get("kit")!;
    value(await bench.do("ada", "quay", 1, { kind: "ask", invited: [{ person: kit.id }] }));
    await setFollowing(bench.app, bench.people.get("ada")!, change, false);
    await review("ben", "Again.");
    await mail.step();
    const mine = await arrivedFor(folder, "kit@x.example");
    expect(mine.map(({ subject }) => subject)).toEqual([
      "[quay 1] Take topic: ben Example asks for changes in r1",
      "[quay 1] Take topic: ada Example asks for your review",
    ]);
    expect((await arrivedFor(folder, "ada@x.example")).length).toBe(1);
    expect((await arrivedMessage(folder, mine[0].id, "kit@x.example")).ok).toBe(true);
    expect((await arrivedMessage(folder, mine[0].id, "ada@x.example")).ok).toBe(false);
    expect((await arrivedMessage(folder, "../../lens", null)).ok).toBe(false);
  });

  it("goes to nobody who may not look any more, not even a message that was written before", async () => {
    value(await setRole(bench.app, "kit", "quay", null));
    await review("ben", "Between us.");
    await mail.step();
    const before = (await arrived()).length;
    expect((await arrivedFor(folder, "kit@x.example")).length).toBe(2);
    value(await setRole(bench.app, "kit", "quay", "contributor"));
    const { change } = await bench.change("quay", 1);
    const late = { kind: "reply" as const, thread: change.threads[0].id, body: "Late." };
    value(await bench.do("ben", "quay", 1, late));
    await mail.step();
    value(await setRole(bench.app, "kit", "quay", null));
    bench.pass(40_000);
    await mail.step();
    expect((await arrived()).length).toBe(before);
    expect(await bench.app.db.selectFrom("messages").select("id").where("sent_at", "is", null).execute()).toEqual([]);
  });

  it("is tried again, and no more than that, when the server says no", async () => {
    await mail.stop();
    const no: Server = createServer((socket) => socket.end("554 no service\r\n"));
    await new Promise<void>((resolve) => no.listen(0, "127.0.0.1", resolve));
    const address = no.address();
    mail = new Mail(bench.app, settings(`smtp://127.0.0.1:${typeof address === "object" && address?.port}`));
    await setFollowing(bench.app, bench.people.get("ada")!, (await bench.change("quay", 1)).change, true);
    await review("ben", "Once more.");
    await mail.step();
    const waiting = await bench.app.db.selectFrom("messages").selectAll().where("sent_at", "is", null).execute();
    expect(waiting.map(({ tries, problem }) => [tries, /554/.test(problem ?? "")])).toEqual([[1, true]]);
    no.close();
  });
});
