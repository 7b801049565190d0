import type { SendMailOptions } from "nodemailer";
import { type Block, toText } from "@/core/doors/mail/blocks";
import { toHtml } from "@/core/doors/mail/html";
import { hearsAt, wayOf } from "@/core/doors/news/wishes";
import { isMailAddress } from "@/core/house/account";
import { rulesDifferences } from "@/core/rules/rule-words";
import type { RuleMessagesTable } from "@/store/tables/repositories";
import { peopleIn, personById } from "../access/people";
import { nameOfRepository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { editionsOf, rulesOf } from "../rules/rules";
import { MOST_TRIES, sendEach } from "./outbox";
import { wishesOf } from "./wishes";

const AT_ONCE = 20;
/** So many sentences of what differs stand in a message; the page has them all. */
const MOST_SAID = 20;

/**
 * Asks the keepers who can agree to an edition of the rules that waits, once, and sends what is due of that. Who wants no mail when they are asked for something
 * is sent none.
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
    .where(({ not, exists, selectFrom }) =>
      not(
        exists(
          selectFrom("rule_messages")
            .select("rule_messages.version")
            .whereRef("rule_messages.repository", "=", "rule_sets.repository")
            .whereRef("rule_messages.version", "=", "rule_sets.version"),
        ),
      ),
    )
    .execute();
  for (const edition of unasked) await ask(app, edition);
  const due = await db
    .selectFrom("rule_messages")
    .selectAll()
    .where("sent_at", "is", null)
    .where("due_at", "<=", app.now())
    .where("tries", "<", MOST_TRIES)
    .orderBy("due_at")
    .limit(AT_ONCE)
    .execute();
  const note = async ({ repository, version, person }: RuleMessagesTable, how: Partial<RuleMessagesTable>) => {
    await db
      .updateTable("rule_messages")
      .set(how)
      .where("repository", "=", repository)
      .where("version", "=", version)
      .where("person", "=", person)
      .execute();
  };
  const send = async (message: RuleMessagesTable) => {
    const mail = await written(app, message, out);
    if (mail) await out.post(mail);
    await note(message, { sent_at: app.now(), problem: null });
  };
  await sendEach(app, due, send, note);
}

/** Notes whom an edition waits for, as they want to hear of it. */
async function ask(
  { db, now }: AppContext,
  { repository, version, by, owner }: { repository: string; version: number; by: string | null; owner: string | null },
): Promise<void> {
  const name = await nameOfRepository(db, repository);
  const messages: RuleMessagesTable[] = [];
  for (const { id: person, role, machine } of await peopleIn(db, repository)) {
    if (machine || role !== "keeper" || person === by || person === owner) continue;
    const wishes = await wishesOf(db, person);
    const due_at = hearsAt(wishes, now());
    const sent_at = wayOf(wishes, "asked", name) === "mail" ? null : now();
    messages.push({ repository, version, person, due_at, tries: 0, sent_at, problem: null });
  }
  // All in one: an edition that anybody was asked about is not looked at again.
  if (messages.length > 0) await db.insertInto("rule_messages").values(messages).execute();
}

/** A message; null where it has nobody to agree any more. */
async function written(
  { db }: AppContext,
  message: RuleMessagesTable,
  { from, address }: { from: string; address: string },
): Promise<SendMailOptions | null> {
  const repository = await nameOfRepository(db, message.repository);
  const edition = (await editionsOf(db, message.repository)).find(({ version }) => version === message.version);
  const people = await peopleIn(db, message.repository);
  const person = await personById(db, message.person);
  const keeps = people.some(({ id, role }) => id === message.person && role === "keeper");
  if (edition?.state !== "waits" || !keeps || !person || !isMailAddress(person.email)) return null;
  const saver = (edition.by && (await personById(db, edition.by))?.fullName) || "someone";
  const differences = rulesDifferences(await rulesOf(db, message.repository), edition.rules).flatMap(
    ({ about, gone, come }) => [
      ...gone.map((words) => `${about}, no longer: ${words}`),
      ...come.map((words) => `${about}, now: ${words}`),
    ],
  );
  const lines = differences.length > MOST_SAID ? [...differences.slice(0, MOST_SAID), "…"] : differences;
  const blocks: Block[] = [
    {
      kind: "says",
      words: `${saver} changed the rules of ${repository}. They count when a second keeper has agreed.`,
    },
    ...(edition.note === "" ? [] : [{ kind: "words" as const, words: edition.note }]),
    ...lines.map((words): Block => ({ kind: "quote", lines: [words] })),
    {
      kind: "link",
      words: `Agree to edition ${edition.version}, or drop it`,
      to: `${address}/r/${repository}/rules`,
    },
    { kind: "foot", words: `You keep ${repository}. What you hear of by mail:`, to: `${address}/notices` },
  ];
  return {
    from: { name: saver, address: from },
    to: { name: person.fullName, address: person.email },
    subject: `[${repository}] Rules: edition ${edition.version} waits for a second keeper`,
    text: toText(blocks),
    html: toHtml(blocks),
    headers: {
      "List-Id": `${repository} <${repository}.${new URL(address).hostname}>`,
      "Auto-Submitted": "auto-generated",
    },
  };
}
