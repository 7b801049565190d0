import type { SendMailOptions } from "nodemailer";
import { type Block, toText } from "@/core/doors/mail/blocks";
import { toHtml } from "@/core/doors/mail/html";
import { isMailAddress } from "@/core/house/account";
import { rulesDifferences } from "@/core/rules/rule-words";
import type { Queries } from "@/store/database";
import type { RuleMessagesTable } from "@/store/tables/repositories";
import { peopleIn, personById } from "../access/people";
import { nameOfRepository } from "../access/repositories";
import { editionsOf, type RuleEdition, rulesOf } from "../rules/rules";

/** So many sentences of what differs stand in a message; the page has them all. */
const MOST_SAID = 20;

/** What is said of an edition, by whom, under which subject, and what to do about it. */
interface Said {
  by: string;
  subject: string;
  blocks: Block[];
  link: string;
}

/** A message about an edition of rules, for one person; null where they have nothing to agree to any more, or may not see it. */
export async function written(
  db: Queries,
  message: RuleMessagesTable,
  { from, address }: { from: string; address: string },
): Promise<SendMailOptions | null> {
  const repository = await nameOfRepository(db, message.repository);
  const edition = (await editionsOf(db, message.repository)).find(({ version }) => version === message.version);
  const role = (await peopleIn(db, message.repository)).find(({ id }) => id === message.person)?.role;
  const person = await personById(db, message.person);
  if (!edition || !role || !person || !isMailAddress(person.email)) return null;
  const isOwn = edition.by === person.id;
  if (!isOwn && (edition.state !== "waits" || role !== "keeper")) return null;
  const about = { db, edition, repository };
  const { by, subject, blocks, link } = isOwn ? await outcome(about) : await question(about, message.repository);
  const all: Block[] = [
    ...blocks,
    { kind: "link", words: link, to: `${address}/r/${repository}/rules` },
    {
      kind: "foot",
      words: `You ${isOwn ? "saved these rules" : `keep ${repository}`}. What you hear of by mail:`,
      to: `${address}/notices`,
    },
  ];
  return {
    from: { name: by, address: from },
    to: { name: person.fullName, address: person.email },
    subject: `[${repository}] Rules: edition ${edition.version} ${subject}`,
    text: toText(all),
    html: toHtml(all),
    headers: {
      "List-Id": `${repository} <${repository}.${new URL(address).hostname}>`,
      "Auto-Submitted": "auto-generated",
    },
  };
}

interface About {
  db: Queries;
  edition: RuleEdition;
  repository: string;
}

/** For a keeper who can agree. */
async function question({ db, edition, repository }: About, id: string): Promise<Said> {
  const by = await nameOf(db, edition.by);
  const differences = rulesDifferences(await rulesOf(db, id), edition.rules).flatMap(({ about, gone, come }) => [
    ...gone.map((words) => `${about}, no longer: ${words}`),
    ...come.map((words) => `${about}, now: ${words}`),
  ]);
  const lines = differences.length > MOST_SAID ? [...differences.slice(0, MOST_SAID), "…"] : differences;
  return {
    by,
    subject: "waits for a second keeper",
    blocks: [
      {
        kind: "says",
        words: `${by} changed the rules of ${repository}. They count when a second keeper has agreed.`,
      },
      ...(edition.note === "" ? [] : [{ kind: "words" as const, words: edition.note }]),
      ...lines.map((words): Block => ({ kind: "quote", lines: [words] })),
    ],
    link: `Agree to edition ${edition.version}, or drop it`,
  };
}

/** For who saved it. */
async function outcome({ db, edition, repository }: About): Promise<Said> {
  const by = await nameOf(db, edition.second?.by ?? null);
  const [subject, words, link] =
    edition.state === "agreed"
      ? ["counts", `${by} agreed to your edition of the rules of ${repository}. It counts from now on.`, "The rules"]
      : [
          "was dropped",
          `${by} dropped your edition of the rules of ${repository}. It stays in the history, to begin from again.`,
          "The rules and their history",
        ];
  const own: Block[] = edition.note === "" ? [] : [{ kind: "quote", lines: edition.note.split("\n") }];
  return { by, subject, blocks: [{ kind: "says", words }, ...own], link };
}

const nameOf = async (db: Queries, id: string | null) => (id && (await personById(db, id))?.fullName) || "someone";
