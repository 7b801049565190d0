import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { simpleParser } from "mailparser";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { story } from "@/server/testing/story";
import { Bench, value } from "../testing/bench";
import { ImapServer } from "../testing/imap-server";
import { Mail } from "./mail";
import { fetchMail } from "./mail-fetcher";
import { type StandIn, startStandIn } from "./mail-standin";

const it = story();

/** Answers that lie in a mailbox, and are fetched from there. */
let bench: Bench;
let standIn: StandIn;
let mailbox: ImapServer;
let fetcher: ReturnType<typeof fetchMail>;
let mail: Mail;
let address: string;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "one\n" }], topic: [{ "a.txt": "two\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
  standIn = await startStandIn(join(bench.folder, "mail"), 0);
  Object.assign(bench.app.settings, { mail: standIn.server, mailAnswers: "answers@lens.example" });
  mail = new Mail(bench.app, { server: standIn.server, from: "l@x.example", address: "http://lens.example", quiet: 0 });
  await mail.step();
  value(await bench.do("ada", "quay", 1, { kind: "ask", invited: [{ person: bench.people.get("ben")!.id }] }));
  await mail.step();
  const [message] = readdirSync(join(bench.folder, "mail"));
  address = (await simpleParser(readFileSync(join(bench.folder, "mail", message)))).replyTo!.value[0].address!;
  mailbox = new ImapServer("answers", 'pass "word"');
  await mailbox.start();
  fetcher = fetcherWith('answers:pass%20"word"');
});
afterAll(async () => {
  await mail.stop();
  await fetcher.stop();
  await mailbox.close();
  await standIn.close();
  await bench.clear();
});

const fetcherWith = (who: string, folder = "") =>
  fetchMail(bench.app, `imap://${who}@127.0.0.1:${mailbox.port}/${folder}`);
const reviews = async () => (await bench.change("quay", 1)).change.reviews;

function message(text: string, head: Record<string, string> = {}): string {
  const all = { From: "ben@x.example", To: address, Subject: "Re: x", "Message-ID": `<${text.length}@x>`, ...head };
  const lines = Object.entries(all).map(([name, value]) => `${name}: ${value}`);
  return `${lines.join("\r\n")}\r\n\r\n${text}\r\n`;
}

describe("a mailbox that answers come to", () => {
  it("is read once: what is in it is taken, marked, and stays", async () => {
    const kept = mailbox.put(message("verdict: request-changes\r\n\r\nNot yet."));
    await fetcher.step();
    expect(await reviews()).toMatchObject([{ verdict: "request-changes", remark: "Not yet." }]);
    expect([...kept.flags]).toEqual(["\\Seen"]);
    const before = mailbox.asked.length;
    await fetcher.step();
    expect(mailbox.asked.slice(before).join("\n")).not.toMatch(/BODY/);
    // Read in between by somebody, or brought a second time: it is the same message.
    kept.flags.clear();
    await fetcher.step();
    expect(await reviews()).toHaveLength(1);
    expect(mailbox.messages).toHaveLength(1);
  });

  it("is known by whom the mail server brought it to, where the head names somebody else", async () => {
    mailbox.put(message("Brought.", { To: "everyone@lens.example", "Delivered-To": address }));
    await fetcher.step();
    expect((await reviews()).at(-1)).toMatchObject({ remark: "Brought." });
  });

  it("lets nobody in whom SMTP would not: others, machines, made-up addresses", async () => {
    const others = [
      message("verdict: request-changes", { From: "kit@x.example" }),
      message("verdict: request-changes.", { "Auto-Submitted": "auto-replied" }),
      message("verdict: request-changes..", { To: address.replace(/.@/, (end) => (end === "a@" ? "b@" : "a@")) }),
      "no message at all",
    ].map((text) => mailbox.put(text));
    await fetcher.step();
    expect((await reviews()).at(-1)).toMatchObject({ remark: "Brought." });
    expect(others.map(({ flags }) => flags.size)).toEqual([1, 1, 1, 1]);
  });

  it("keeps unread what fails here, and takes it when that is well again", async () => {
    const kept = mailbox.put(message("After all."));
    const { inTurn } = bench.app;
    bench.app.inTurn = () => Promise.reject(new Error("the disk is full"));
    await fetcher.step();
    expect(kept.flags.size).toBe(0);
    bench.app.inTurn = inTurn;
    await fetcher.step();
    expect((await reviews()).at(-1)).toMatchObject({ remark: "After all." });
  });

  it("is let be where it is not to be had: a wrong password, no such folder, no server", async () => {
    const kept = mailbox.put(message("Last."));
    await fetcherWith("answers:wrong").step();
    await fetcherWith('answers:pass%20"word"', "elsewhere").step();
    await fetchMail(bench.app, "imap://a:b@127.0.0.1:9/").step();
    expect(kept.flags.size).toBe(0);
    await fetcher.step();
    expect(kept.flags.size).toBe(1);
  });

  it("takes nothing that is too large, and does not stop there", async () => {
    mailbox.put(message("x".repeat(21 * 1024 * 1024)));
    mailbox.put(message("Right behind it."));
    await fetcher.step();
    expect(mailbox.messages.every(({ flags }) => flags.has("\\Seen"))).toBe(true);
    expect((await reviews()).at(-1)).toMatchObject({ remark: "Right behind it." });
  });
});
