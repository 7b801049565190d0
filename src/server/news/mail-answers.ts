import type { ParsedMail } from "mailparser";
import { createTransport } from "nodemailer";
import { answerIn, automatic } from "@/core/doors/mail/answer";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { inFigures } from "@/core/plain/words";
import { eventsByIds, loadChangeSet } from "@/store/log";
import type { MessagesTable } from "@/store/tables/own";
import { personById } from "../access/people";
import type { Person } from "../access/person";
import { hashOf } from "../access/secret";
import type { AppContext } from "../app/context";
import { LONGEST_HTML, plainMail, wholeMail } from "../app/read-mail";
import { patchesFor } from "../git-access/patch-address";
import { type PatchTaken, takePatch } from "../git-access/patch-mail";
import { type FormAnswer, sendForm } from "../text-form/text-form";
import { answerAddress, messageAt } from "./mail-addresses";

/** What became of a message. */
export type Taken =
  | { kind: "taken"; says: string[] }
  /** It was told to its writer what was wrong. */
  | { kind: "returned"; why: string }
  /** Nobody was told: it was no answer of a person. */
  | { kind: "dropped"; why: string };

/**
 * Takes a message that came for an address of ours. Who wrote it is known by the signed address of the message that is answered, and has to write from the
 * address that they have here: neither alone is enough. What is in it is read as a text form. What was wrong is told back, with all that was written.
 */
export async function takeMail(app: AppContext, raw: Buffer, to: readonly string[]): Promise<Taken> {
  for (const address of to) {
    const patches = await patchesFor(app, address);
    if (patches) return tellOfPatch(app, patches.person, raw, await takePatch(app, raw, patches));
  }
  const message = await firstMessage(app, to);
  if (!message) return { kind: "dropped", why: "it answers no message of ours" };
  const mail = await wholeMail(raw);
  const head = new Map(mail.headerLines.map(({ key, line }) => [key, line.slice(line.indexOf(":") + 1)]));
  const machine = automatic(head);
  if (machine) return { kind: "dropped", why: machine };
  const person = await personById(app.db, message.person);
  if (!person || person.disabledAt !== null) return { kind: "dropped", why: "its writer has no account any more" };
  const from = mail.from?.value.map(({ address }) => address?.toLowerCase()) ?? [];
  // Nobody is told: who sent it is not known to be who the message went to.
  if (from.length !== 1 || from[0] !== person.email.toLowerCase())
    return { kind: "dropped", why: "it does not come from the address of whom the message was sent to" };
  const read = textOf(mail);
  const text = read.ok ? read.value : "";
  const own = [(await answerAddress(app, message.id)) ?? "", person.email];
  const sent = await app.inTurn(`answers ${message.change_set}`, async () => {
    const outcome = read.ok ? await carryOut(app, person, message, mail, text) : read;
    if (isDone(outcome) || hasOthers(mail, own)) await noteAnswered(app, message);
    return outcome;
  });
  if (sent.ok && isDone(sent)) return { kind: "taken", says: sent.value.says };
  const wrong = sent.ok
    ? sent.value.problems.map(
        ({ line, says }) => `Line ${line}, “${(text.split("\n")[line - 1] ?? "").slice(0, 80)}”: ${says}`,
      )
    : [sent.refusal.reason];
  await tellBack(app, person, message, mail, wrong, text);
  return { kind: "returned", why: wrong.join(" ") };
}

/**
 * Whoever else got an answer knows the address that it went to, and anybody can write as from somebody else's mail address: so a verdict goes with the first
 * answer to a message, and with none after one that others got, too.
 */
const SPENT =
  "A verdict goes with the first answer to a message: who saw that one knows its address by now. Give it on the page, or in an answer to a later message.";

/** So many characters an answer has at the most, with all that it quotes. */
const LONGEST_ANSWER = 2_000_000;

/** What a message says, without what its writer's program put there. */
function textOf({ text = "", html }: ParsedMail): Outcome<string> {
  if (text === "" && html && html.length > LONGEST_HTML)
    return refuse("invalid", "It is written in HTML alone, and too long to be read as such: write it as plain text.");
  if (text.length > LONGEST_ANSWER)
    return refuse(
      "invalid",
      `It has more than ${inFigures(LONGEST_ANSWER)} characters: leave out what need not be quoted.`,
    );
  return done(answerIn(text));
}

/** Whether what an answer says was carried out. */
function isDone(sent: Outcome<FormAnswer>): boolean {
  return sent.ok && sent.value.problems.length === 0;
}

/** Whether a message went to others than these. */
function hasOthers(mail: ParsedMail, known: readonly string[]): boolean {
  const own = new Set(known.map((address) => address.toLowerCase()));
  const all = [mail.to ?? [], mail.cc ?? []].flat().flatMap(({ value }) => value.flatMap((one) => one.group ?? [one]));
  return all.some(({ address }) => address !== undefined && !own.has(address.toLowerCase()));
}

async function noteAnswered(app: AppContext, { id }: MessagesTable): Promise<void> {
  await app.db
    .updateTable("messages")
    .set({ answered_at: app.now() })
    .where("id", "=", id)
    .where("answered_at", "is", null)
    .execute();
}

async function firstMessage(app: AppContext, to: readonly string[]): Promise<MessagesTable | null> {
  for (const address of to) {
    const message = await messageAt(app, address);
    if (message) return message;
  }
  return null;
}

async function carryOut(
  app: AppContext,
  person: Person,
  message: MessagesTable,
  mail: ParsedMail,
  text: string,
): Promise<Outcome<FormAnswer>> {
  const change = await loadChangeSet(app.db, message.change_set);
  const repository = await app.db
    .selectFrom("repositories")
    .select("name")
    .where("id", "=", change?.repository ?? "")
    .executeTakeFirst();
  if (!change || !repository) return refuse("missing", "The change set is not there any more.");
  if (text === "") return refuse("invalid", "Nothing was found in it but what it quotes.");
  // The same message that comes twice is carried out once.
  const key = `mail-${hashOf(mail.messageId ?? text).slice(0, 30)}`;
  const thread = await onlyThread(app, message);
  const { answered_at } = await app.db
    .selectFrom("messages")
    .select("answered_at")
    .where("id", "=", message.id)
    .executeTakeFirstOrThrow();
  const noVerdict = answered_at === null ? undefined : SPENT;
  const sent = await sendForm(app, person, repository.name, change.number, text, { key, thread, noVerdict });
  return sent.ok ? done(sent.value) : sent;
}

/** The thread that a message is about, where it is about one alone. */
async function onlyThread(app: AppContext, message: MessagesTable): Promise<string | null> {
  const threads = new Set<string>();
  for (const { data } of await eventsByIds(app.db, JSON.parse(message.events))) {
    const said = data as {
      thread?: string;
      remarks?: { thread: string }[];
      replies?: { thread: string }[];
      remark?: string;
    };
    if (said.thread) threads.add(said.thread);
    for (const one of [...(said.remarks ?? []), ...(said.replies ?? [])]) threads.add(one.thread);
    // A closing word is about the whole.
    if (said.remark) threads.add("");
  }
  const [only] = threads;
  return threads.size === 1 && only !== "" ? only : null;
}

async function tellBack(
  app: AppContext,
  person: Person,
  message: MessagesTable,
  mail: ParsedMail,
  wrong: readonly string[],
  text: string,
): Promise<void> {
  const parts = [
    "Nothing of your answer was sent, because of this:",
    wrong.map((words) => `- ${words}`).join("\n"),
    "Here is what you wrote. Send it again to this address, mended:",
    `${text}\n`,
  ];
  await reply(app, person, mail, parts.join("\n\n"), (await answerAddress(app, message.id)) ?? undefined);
}

/** Tells who mailed a series what became of it, once that is known. */
async function tellOfPatch(app: AppContext, person: Person, raw: Buffer, taken: PatchTaken): Promise<Taken> {
  if (taken.kind === "dropped") return taken;
  if (taken.kind === "waits") return { kind: "taken", says: ["Others of its series are missing."] };
  await reply(app, person, await plainMail(raw), `${taken.says.join("\n")}\n`);
  return taken.kind === "taken" ? { kind: "taken", says: taken.says } : { kind: "returned", why: taken.says.join(" ") };
}

/** Answers a message. It says that a program did, so that no other answers it again. */
async function reply(app: AppContext, person: Person, mail: ParsedMail, text: string, replyTo?: string): Promise<void> {
  const server = app.settings.mail;
  if (!server) return;
  const transport = createTransport(server, { from: app.settings.mailFrom });
  try {
    await transport.sendMail({
      to: { name: person.fullName, address: person.email },
      subject: `Re: ${mail.subject ?? ""}`.replace(/^(?:Re: )+/i, "Re: ").slice(0, 200),
      replyTo,
      inReplyTo: mail.messageId,
      text,
      references: mail.messageId ? [mail.messageId] : [],
      headers: { "Auto-Submitted": "auto-replied" },
    });
  } finally {
    transport.close();
  }
}
