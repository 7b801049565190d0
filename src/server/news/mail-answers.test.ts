import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { type ParsedMail, simpleParser } from "mailparser";
import { createTransport, type SendMailOptions } from "nodemailer";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { story } from "@/server/testing/story";
import { COMMAND_LINE } from "../access/audit";
import { changeAccount } from "../keeping/accounts";
import { Bench, value } from "../testing/bench";
import { Mail } from "./mail";
import { answerAddress, messageAt } from "./mail-addresses";
import { takeMail } from "./mail-answers";
import { listenForMail } from "./mail-listener";
import { type StandIn, startStandIn } from "./mail-standin";

const it = story();

/** A round by mail: what is told goes out to a mail server, what is answered comes in by SMTP, both for real. */
let bench: Bench;
let standIn: StandIn;
let listener: { port: number; close: () => Promise<void> };
let mail: Mail;
let folder: string;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "one\ntwo\nthree\n" }],
    topic: [{ "a.txt": "one\n2\nthree\n", "b.txt": "new\n" }],
  });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben", "kit"]) await bench.person(name, { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
  folder = join(bench.folder, "mail");
  standIn = await startStandIn(folder, 0);
  Object.assign(bench.app.settings, {
    mail: standIn.server,
    mailFrom: "lens@x.example",
    mailAnswers: "Answers@lens.example",
  });
  listener = await listenForMail(bench.app, 0);
  const settings = { server: standIn.server, from: "lens@x.example", address: "http://lens.example", quiet: 0 };
  mail = new Mail(bench.app, settings);
  await mail.step();
  value(await bench.do("ada", "quay", 1, { kind: "ask", invited: [{ person: bench.people.get("ben")!.id }] }));
  await mail.step();
});
afterAll(async () => {
  await mail.stop();
  await listener.close();
  await standIn.close();
  await bench.clear();
});

async function arrived(): Promise<ParsedMail[]> {
  const names = readdirSync(folder)
    .filter((name) => name.endsWith(".eml"))
    .sort();
  return Promise.all(names.map((name) => simpleParser(readFileSync(join(folder, name)))));
}
const last = async () => (await arrived()).at(-1)!;
const change = async () => (await bench.change("quay", 1)).change;
const replyTo = (message: ParsedMail) => message.replyTo!.value[0].address!;
const quoted = (text: string) => text.trimEnd().replace(/^/gm, "> ");

let sent = 0;
/** Sends a message as any mail program would; gives what the server said where it did not take it. */
async function send(by: string, to: string, message: SendMailOptions): Promise<string> {
  const transport = createTransport({ host: "127.0.0.1", port: listener.port, secure: false, ignoreTLS: true });
  try {
    const from = `${by}@x.example`;
    await transport.sendMail({ from, to, subject: "Re: x", messageId: `<${++sent}@x.example>`, ...message });
    return "";
  } catch (error) {
    return (error as Error).message;
  } finally {
    transport.close();
  }
}

function under(text: string, words: string, said: string): string {
  const lines = text.split("\n");
  const at = lines.findIndex((line) => line.includes(words));
  return [...lines.slice(0, at + 1), "", said, "", ...lines.slice(at + 1)].join("\n");
}

describe("answers by mail", () => {
  it("are a review: what was asked for is in the message, and what stands under its lines is sent as one", async () => {
    const message = await last();
    expect(message.text).toContain("asks for your review");
    expect(message.text).toMatch(/^> \+ {2}2 {2}2$/m);
    let text = `On Monday, 23 Nov 2026 at 10:00, Ada wrote:\n${quoted(message.text!)}\n-- \nBen\nThe office\n`;
    text = under(text, "+  2  2", "Why not two?");
    text = text.replace(/^(> ?)+verdict: none$/m, "$&\n\nverdict: request-changes\n\nNearly.");
    expect(await send("ben", replyTo(message), { text })).toBe("");
    const { reviews, threads } = await change();
    expect(reviews).toMatchObject([{ verdict: "request-changes", remark: "Nearly.", by: bench.people.get("ben")!.id }]);
    expect(threads).toMatchObject([{ anchor: { path: "a.txt", start: 2 }, comments: [{ body: "Why not two?" }] }]);
    // The same message brought twice is the same message.
    expect(await send("ben", replyTo(message), { text, messageId: `<${sent}@x.example>` })).toBe("");
    expect((await change()).reviews).toHaveLength(1);
  });

  it("go to the thread that the message was about, also without a quotation, in HTML, and in other character sets", async () => {
    await mail.step();
    const message = await last();
    expect(message.to).toMatchObject({ text: expect.stringContaining("ada@x.example") });
    const [thread] = (await change()).threads;
    expect(
      await send("ada", replyTo(message), { text: under(quoted(message.text!), "Why not two?", "It is shorter.") }),
    ).toBe("");
    await mail.step();
    const answered = await last();
    expect(
      await send("ben", replyTo(answered), {
        html: "<p>Then be <b>it</b> so.</p><blockquote>It is shorter.</blockquote>",
      }),
    ).toBe("");
    await mail.step();
    const again = await last();
    const latin = Buffer.from("Gr\u00fc\u00dfe vom Kai.", "latin1");
    const raw = `From: ada@x.example\r\nTo: ${replyTo(again)}\r\nSubject: Re\r\nMessage-ID: <latin@x.example>\r\nContent-Type: text/plain; charset=iso-8859-1\r\nContent-Transfer-Encoding: 8bit\r\n\r\n`;
    const whole = Buffer.concat([Buffer.from(raw), latin]);
    expect(
      await send("ada", replyTo(again), { raw: whole, envelope: { from: "ada@x.example", to: replyTo(again) } }),
    ).toBe("");
    const told = (await change()).threads.find(({ id }) => id === thread.id)!.comments.map(({ body }) => body);
    expect(told).toEqual(["Why not two?", "It is shorter.", "Then be it so.", "Grüße vom Kai."]);
  });

  it("in HTML that is too long to be read are told so, and hold up nobody", async () => {
    const message = (await arrived()).find(({ text }) => text?.includes("asks for your review"))!;
    const before = (await change()).last;
    expect(await send("ben", replyTo(message), { html: "<p>a".repeat(1_000_000) })).toBe("");
    expect((await last()).text).toContain("It is written in HTML alone, and too long to be read as such");
    expect((await change()).last).toBe(before);
  });

  it("are told what was wrong, with all that was written, and nothing of them is sent", async () => {
    const message = (await arrived()).find(({ text }) => text?.includes("asks for your review"))!;
    const before = (await change()).last;
    expect(await send("ben", replyTo(message), { text: "verdict: perhaps\n\nMy long words." })).toBe("");
    const told = await last();
    expect(told.text).toMatch(
      /Nothing of your answer was sent[\s\S]*Line 1, “verdict: perhaps”: “perhaps” is no verdict[\s\S]*My long words\./,
    );
    expect(told.headers.get("auto-submitted")).toBe("auto-replied");
    expect(replyTo(told)).toBe(replyTo(message));
    expect((await change()).last).toBe(before);
    // Mended, and sent to where that came from.
    expect(await send("ben", replyTo(told), { text: "My long words." })).toBe("");
    expect((await change()).reviews.at(-1)).toMatchObject({ verdict: "none", remark: "My long words." });
  });

  it("give a verdict with the first answer alone: who got a copy of it knows where it went", async () => {
    const askAgain = async () => {
      value(await bench.do("ada", "quay", 1, { kind: "ask-again", people: [bench.people.get("ben")!.id] }));
      await mail.step();
      return (await arrived()).findLast(
        ({ text, to }) => /look again/.test(text ?? "") && /ben@/.test(JSON.stringify(to)),
      )!;
    };
    const verdicts = async () => (await change()).reviews.map(({ verdict }) => verdict);
    const before = await verdicts();
    // Ben answers, and ada gets a copy. She writes as if she were him.
    const first = await askAgain();
    expect(await send("ben", replyTo(first), { text: "On it.", cc: "ada@x.example" })).toBe("");
    expect(await send("ben", replyTo(first), { text: "verdict: approve" })).toBe("");
    expect((await last()).text).toMatch(/A verdict goes with the first answer to a message/);
    expect(await verdicts()).toEqual([...before, "none"]);
    // Also where the first one was returned; and words are taken from whoever writes as him, as before.
    const second = await askAgain();
    const to = [replyTo(second), "ada@x.example"];
    const copied = `From: ben@x.example\r\nTo: ${to.join(", ")}\r\nMessage-ID: <copied@x>\r\n\r\nverdict: perhaps\r\n`;
    // As a mailbox is read: whom it went to is what its head says.
    expect(await takeMail(bench.app, Buffer.from(copied), to)).toMatchObject({ kind: "returned" });
    expect(await send("ben", replyTo(second), { text: "verdict: approve" })).toBe("");
    expect(await verdicts()).toEqual([...before, "none"]);
    expect(await send("ben", replyTo(second), { text: "Later." })).toBe("");
    // Who was told what was wrong, and nobody else, sends it again.
    const third = await askAgain();
    expect(await send("ben", replyTo(third), { text: "verdict: perhaps", cc: "ben@x.example" })).toBe("");
    expect(await send("ben", replyTo(third), { text: "verdict: approve" })).toBe("");
    expect(await verdicts()).toEqual([...before, "none", "none", "approve"]);
  });

  it("are known by the signed address and by where they come from, neither alone; nothing else comes in", async () => {
    const message = (await arrived()).find(({ text }) => text?.includes("asks for your review"))!;
    const before = (await change()).last;
    const mails = (await arrived()).length;
    // Kit has got hold of Ben's message; Eve says that she is Ben, and has no message.
    expect(await send("kit", replyTo(message), { text: "verdict: approve" })).toBe("");
    const made = replyTo(message).replace(/\w{3}@/, (end) => `${end === "aaa@" ? "bbb" : "aaa"}@`);
    expect(await send("ben", made, { text: "x" })).toMatch(/550/);
    expect(await send("ben", "answers@lens.example", { text: "x" })).toMatch(/550/);
    expect(await send("ben", "ada@x.example", { text: "x" })).toMatch(/550/);
    const machine = { headers: { "Auto-Submitted": "auto-replied" }, text: "I am away." };
    expect(await send("ben", replyTo(message), machine)).toBe("");
    expect((await change()).last).toBe(before);
    expect((await arrived()).length).toBe(mails);
    // Capitals are changed by what carries mail.
    expect(await messageAt(bench.app, replyTo(message).toUpperCase())).not.toBeNull();
    const now = bench.app.now;
    bench.app.now = () => now() + 200 * 24 * 3_600_000;
    expect(await messageAt(bench.app, replyTo(message))).toBeNull();
    bench.app.now = now;
    expect(await messageAt(bench.app, "answers+%@lens.example")).toBeNull();
    expect(await answerAddress(bench.app, "01JD0000000000000000000000")).toMatch(
      /^Answers\+[0-9a-z]{46}@lens\.example$/,
    );
  });

  it("survive what is broken, too large, twice at once, or late", async () => {
    const message = (await arrived()).find(({ text }) => text?.includes("asks for your review"))!;
    const to = replyTo(message);
    const large = await send("ben", to, { text: "x".repeat(21 * 1024 * 1024) });
    expect(large).toMatch(/too large|552|size/i);
    const broken = `From: ben@x.example\r\nContent-Type: multipart/mixed; boundary="b"\r\nMessage-ID: <broken@x>\r\n\r\n--b\r\nContent-Type: text/plain; charset=none-such\r\nContent-Transfer-Encoding: base64\r\n\r\n%%%%`;
    expect(await send("ben", to, { raw: broken, envelope: { from: "ben@x.example", to } })).toBe("");
    const [thread] = (await change()).threads;
    const both = await Promise.all(
      ["One.", "Two."].map((text) => send("ben", to, { text: `> Why not two?\n${text}` })),
    );
    expect(both).toEqual(["", ""]);
    const bodies = (await change()).threads.find(({ id }) => id === thread.id)!.comments.map(({ body }) => body);
    expect(bodies.slice(-2).sort()).toEqual(["One.", "Two."]);
    value(await changeAccount(bench.app, COMMAND_LINE, "ben", { kind: "disable" }));
    const before = (await change()).last;
    expect(await send("ben", to, { text: "verdict: approve" })).toBe("");
    expect((await change()).last).toBe(before);
    value(await changeAccount(bench.app, COMMAND_LINE, "ben", { kind: "enable" }));
    value(await bench.do("ada", "quay", 1, { kind: "withdraw" }));
    expect(await send("ben", to, { text: "verdict: approve" })).toBe("");
    expect((await last()).text).toMatch(/Nothing of your answer was sent[\s\S]*verdict: approve/);
  });
});
