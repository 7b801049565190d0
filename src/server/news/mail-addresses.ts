import { createHmac } from "node:crypto";
import type { MessagesTable } from "@/store/tables/own";
import { sameSecret, signingKey } from "../access/secret";
import type { AppContext } from "../app/context";

/** So long a message can be answered, in milliseconds. */
const ANSWERED_WITHIN = 90 * 24 * 3_600_000;
const SIGNATURE = 20;

/** The address at which a message is answered: it names the message, and nobody else can make one up. Null where answers are not taken. */
export async function answerAddress(app: AppContext, message: string): Promise<string | null> {
  const { mailAnswers } = app.settings;
  if (mailAnswers === null) return null;
  const [name, host] = mailAnswers.split("@");
  // Small letters only: what carries mail may change the others.
  return `${name}+${message.toLowerCase()}${await signatureOf(app, message)}@${host}`;
}

/** The message that an address stands for; null for an address that is none of ours, or whose message is too old. */
export async function messageAt(app: AppContext, address: string): Promise<MessagesTable | null> {
  const { mailAnswers } = app.settings;
  if (mailAnswers === null) return null;
  const [name, host] = mailAnswers.toLowerCase().split("@");
  const [, tag, at] = /^[^+@]+\+([0-9a-z]+)@(.+)$/.exec(address.toLowerCase()) ?? [];
  if (!tag || at !== host || !address.toLowerCase().startsWith(`${name}+`) || tag.length !== 26 + SIGNATURE)
    return null;
  const id = tag.slice(0, 26).toUpperCase();
  if (!sameSecret(tag.slice(26), await signatureOf(app, id))) return null;
  const message = await app.db.selectFrom("messages").selectAll().where("id", "=", id).executeTakeFirst();
  return message?.sent_at && app.now() - message.sent_at < ANSWERED_WITHIN ? message : null;
}

async function signatureOf(app: AppContext, message: string): Promise<string> {
  const bytes = createHmac("sha256", await signingKey(app, "answers by mail"))
    .update(message)
    .digest();
  return BigInt(`0x${bytes.toString("hex")}`)
    .toString(36)
    .padStart(50, "0")
    .slice(-SIGNATURE);
}
