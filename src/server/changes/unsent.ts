import type { Anchor } from "@/core/anchor/anchor";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { inFigures } from "@/core/plain/words";
import { LONGEST_TEXT, MOST_REMARKS } from "@/core/review/guards";
import type { SentRemark, SentReply, SentTask } from "@/core/review/shapes";
import type { ChangeSet } from "@/core/review/state";
import type { Suggestion } from "@/core/suggest/suggestion";
import type { Unsent, UnsentRequest } from "@/core/views/api";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import type { UnsentTable } from "@/store/tables/own";
import { MOST_UNSENT } from "../access/allowances";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { fixAnchor, fixSuggestions } from "./anchors";

/** What a person has written on a change set and not sent, oldest first. Nobody else can ask for it. */
export function unsentOf(db: Queries, person: Person, change: string): Promise<Unsent[]> {
  return madeOnce(db, `unsent of ${person.id} on ${change}`, async () => {
    const rows = await db
      .selectFrom("unsent")
      .selectAll()
      .where("change_set", "=", change)
      .where("person", "=", person.id)
      .orderBy("id")
      .execute();
    return rows.map(readNote);
  });
}

function readNote(row: UnsentTable): Unsent {
  const { id, kind, body, changed_at: changedAt } = row;
  if (kind === "closing") return { id, kind, body, changedAt };
  if (kind === "reply") return { id, kind, body, changedAt, thread: row.thread ?? "", resolves: row.resolves === 1 };
  if (kind === "task") return { id, kind, body, changedAt, assignee: row.assignee };
  const anchor = JSON.parse(row.anchor ?? "null");
  return { id, kind, body, changedAt, anchor, weight: row.weight, suggestions: JSON.parse(row.suggestions) };
}

/**
 * Keeps what is being typed: makes the note of this id, or changes what it says. Where a note stands is settled when it is made; the text
 * of its lines is read from the repository, not believed.
 */
export async function keepUnsent(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  id: string,
  request: UnsentRequest,
): Promise<Outcome<Unsent>> {
  if (!/^[0-9A-Za-z-]{10,40}$/.test(id) || id in Object.prototype)
    return refuse("invalid", "That is not an id for a note.");
  if (request.body.length > LONGEST_TEXT) {
    return refuse(
      "invalid",
      `A remark has at most ${inFigures(LONGEST_TEXT)} characters; this one has ${inFigures(request.body.length)}.`,
    );
  }
  const known = await app.db.selectFrom("unsent").selectAll().where("id", "=", id).executeTakeFirst();
  if (known && (known.person !== person.id || known.change_set !== change.id || known.kind !== request.kind))
    return refuse("missing", "There is no such note of yours.");
  if (!known) {
    // Another window may still hold it open: kept anew, it would stand in the way of all that is sent next.
    if ([...change.threads, ...change.tasks].some((sent) => sent.id === id))
      return refuse("conflict", "This was sent already, as it stood then. Say the rest beside it.");
    const mine = await unsentOf(app.db, person, change.id);
    if (mine.length >= MOST_REMARKS)
      return refuse("invalid", `One review can carry ${MOST_REMARKS} remarks. Send these first.`);
    const { many } = await app.db
      .selectFrom("unsent")
      .select((select) => select.fn.countAll<number>().as("many"))
      .where("person", "=", person.id)
      .executeTakeFirstOrThrow();
    if (many >= MOST_UNSENT)
      return refuse("invalid", `You have ${inFigures(MOST_UNSENT)} notes that are not sent. Send some first.`);
    if (request.kind === "closing" && mine.some(({ kind }) => kind === "closing"))
      return refuse("conflict", "The closing word of this review is being written already.");
    if (request.kind === "reply" && mine.some((note) => note.kind === "reply" && note.thread === request.thread))
      return refuse("conflict", "Your answer in this thread is being written already.");
  }
  if (request.kind === "reply" && !change.threads.some((thread) => thread.id === request.thread))
    return refuse("missing", "There is no such thread in this change set.");
  const settled = await settle(app, change, folder, request, known ? readNote(known) : null);
  if (!settled.ok) return settled;
  const { anchor, suggestions } = settled.value;
  const now = app.now();
  const row: UnsentTable = {
    id,
    change_set: change.id,
    person: person.id,
    kind: request.kind,
    anchor: anchor && JSON.stringify(anchor),
    thread: request.kind === "reply" ? request.thread : null,
    resolves: request.kind === "reply" && request.resolves ? 1 : 0,
    body: request.body,
    weight: request.kind === "remark" ? request.weight : "settle",
    suggestions: JSON.stringify(suggestions),
    assignee: request.kind === "task" ? request.assignee : null,
    created_at: known?.created_at ?? now,
    changed_at: now,
  };
  await app.db
    .insertInto("unsent")
    .values(row)
    .onConflict((conflict) => conflict.column("id").doUpdateSet(row))
    .execute();
  return done(readNote(row));
}

/** What a remark stands on and suggests, checked against the repository; nothing for other notes. */
async function settle(
  app: AppContext,
  change: ChangeSet,
  folder: string,
  request: UnsentRequest,
  known: Unsent | null,
): Promise<Outcome<{ anchor: Anchor | null; suggestions: Suggestion[] }>> {
  if (request.kind !== "remark") return done({ anchor: null, suggestions: [] });
  const anchor = known?.kind === "remark" ? done(known.anchor) : await fixAnchor(app, change, folder, request.anchor);
  if (!anchor.ok) return anchor;
  const suggestions = await fixSuggestions(folder, anchor.value, request.suggestions);
  return suggestions.ok ? done({ anchor: anchor.value, suggestions: suggestions.value }) : suggestions;
}

export async function dropUnsent(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  id: string,
): Promise<Outcome<null>> {
  const { numDeletedRows } = await app.db
    .deleteFrom("unsent")
    .where("id", "=", id)
    .where("change_set", "=", change.id)
    .where("person", "=", person.id)
    .executeTakeFirst();
  return numDeletedRows > 0n ? done(null) : refuse("missing", "There is no such note of yours.");
}

/** The unsent remarks, answers and tasks with something in them, as they go into a review. Call it in the transaction that sends. */
export async function gatherReview(
  app: AppContext,
  tx: Queries,
  person: Person,
  change: string,
  only: string | null = null,
): Promise<{ remarks: SentRemark[]; tasks: SentTask[]; replies: SentReply[] }> {
  const remarks: SentRemark[] = [];
  const tasks: SentTask[] = [];
  const replies: SentReply[] = [];
  for (const note of await unsentOf(tx, person, change)) {
    if (only !== null && note.id !== only) continue;
    if (note.kind === "remark" && (note.body.trim() !== "" || note.suggestions.length > 0)) {
      const { anchor, body, weight, suggestions } = note;
      remarks.push({ thread: note.id, comment: app.newId(), anchor, body, weight, suggestions });
    }
    if (note.kind === "reply" && note.body.trim() !== "") {
      const { thread, body, resolves } = note;
      replies.push({ thread, comment: app.newId(), body, ...(resolves ? { resolves } : {}) });
    }
    if (note.kind === "task" && note.body.trim() !== "")
      tasks.push({ task: note.id, body: note.body, person: note.assignee });
  }
  return { remarks, tasks, replies };
}
