import type { ExpressionBuilder } from "kysely";
import type { SendMailOptions } from "nodemailer";
import { hearsAt, type Topic, wayOf } from "@/core/doors/news/wishes";
import type { Schema } from "@/store/schema";
import type { RuleMessagesTable } from "@/store/tables/repositories";
import { peopleIn } from "../access/people";
import { nameOfRepository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { MOST_TRIES, sendEach } from "./outbox";
import { written } from "./rule-message";
import { wishesOf } from "./wishes";

const AT_ONCE = 20;

/** The messages about an edition. */
const messagesOf = ({ selectFrom }: ExpressionBuilder<Schema, "rule_sets">) =>
  selectFrom("rule_messages")
    .select("rule_messages.version")
    .whereRef("rule_messages.repository", "=", "rule_sets.repository")
    .whereRef("rule_messages.version", "=", "rule_sets.version");

/**
 * Asks the keepers who can agree to an edition of the rules that waits, once, tells who saved it what became of it, and sends what is due of that. Who wants
 * no mail when they are asked for something, or when something is settled, is sent none.
 */
export async function sendRuleMail(
  app: AppContext,
  out: { from: string; address: string; post: (mail: SendMailOptions) => Promise<unknown> },
): Promise<void> {
  const { db } = app;
  const unasked = await db
    .selectFrom("rule_sets")
    .innerJoin("repositories", "repositories.id", "rule_sets.repository")
    .leftJoin("people", "people.id", "rule_sets.by")
    .select(["rule_sets.repository", "rule_sets.version", "rule_sets.by", "people.owner"])
    .where("rule_sets.state", "=", "waits")
    .where("repositories.deleted_at", "is", null)
    .where((eb) => eb.not(eb.exists(messagesOf(eb))))
    .execute();
  for (const { repository, version, by, owner } of unasked) {
    const others = (await peopleIn(db, repository)).filter(({ id }) => id !== by && id !== owner);
    const asked = others.filter(({ role, machine }) => role === "keeper" && !machine);
    await note(app, { repository, version }, "asked", asked);
  }
  const untold = await db
    .selectFrom("rule_sets")
    .innerJoin("repositories", "repositories.id", "rule_sets.repository")
    .innerJoin("people", "people.id", "rule_sets.by")
    .select(["rule_sets.repository", "rule_sets.version", "people.id"])
    .where("rule_sets.state", "!=", "waits")
    .where("repositories.deleted_at", "is", null)
    .whereRef("rule_sets.second", "!=", "rule_sets.by")
    .where((eb) => eb.exists(messagesOf(eb)))
    .where((eb) => eb.not(eb.exists(messagesOf(eb).whereRef("rule_messages.person", "=", "rule_sets.by"))))
    .execute();
  for (const { id, ...edition } of untold) await note(app, edition, "settled", [{ id }]);
  await sendDue(app, out);
}

/** Notes who is to be told of an edition, as they want to hear of it. */
async function note(
  { db, now }: AppContext,
  edition: { repository: string; version: number },
  topic: Topic,
  people: readonly { id: string }[],
): Promise<void> {
  const name = await nameOfRepository(db, edition.repository);
  const messages: RuleMessagesTable[] = [];
  for (const { id: person } of people) {
    const wishes = await wishesOf(db, person);
    const due_at = hearsAt(wishes, now());
    const sent_at = wayOf(wishes, topic, name) === "mail" ? null : now();
    messages.push({ ...edition, person, due_at, tries: 0, sent_at, problem: null });
  }
  // All in one: an edition that anybody was asked about is not looked at again.
  if (messages.length > 0) await db.insertInto("rule_messages").values(messages).execute();
}

async function sendDue(app: AppContext, out: Parameters<typeof sendRuleMail>[1]): Promise<void> {
  const { db } = app;
  const due = await db
    .selectFrom("rule_messages")
    .selectAll()
    .where("sent_at", "is", null)
    .where("due_at", "<=", app.now())
    .where("tries", "<", MOST_TRIES)
    .orderBy("due_at")
    .limit(AT_ONCE)
    .execute();
  const keep = async ({ repository, version, person }: RuleMessagesTable, how: Partial<RuleMessagesTable>) => {
    await db
      .updateTable("rule_messages")
      .set(how)
      .where("repository", "=", repository)
      .where("version", "=", version)
      .where("person", "=", person)
      .execute();
  };
  const send = async (message: RuleMessagesTable) => {
    const mail = await written(db, message, out);
    if (mail) await out.post(mail);
    await keep(message, { sent_at: app.now(), problem: null });
  };
  await sendEach(app, due, send, keep);
}
