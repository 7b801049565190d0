import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { Command, CommandName, CommandRequest } from "@/core/review/families/table";
import type { CommitsRead, Verdict } from "@/core/review/shapes";
import { type ChangeSet, newest } from "@/core/review/state";
import { sameSuggestion } from "@/core/suggest/suggestion";
import type { UnsentReply } from "@/core/views/api";
import { branchCommit } from "@/git/repository";
import type { Queries } from "@/store/database";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { unknownLabel } from "../house/labels/labels";
import { merge } from "../merging/merging";
import { fixSuggestions } from "./anchors";
import { retarget } from "./chains";
import { findChange } from "./changes";
import { execute, transact, wasCarriedOut } from "./deciding";
import { openFor } from "./open-changes";
import { readRevision, revise } from "./revisions/revising";
import { takePicked } from "./revisions/taking";
import { gatherReview, unsentOf } from "./unsent";

/** What carrying a request out has to know. */
interface Carrying {
  app: AppContext;
  person: Person;
  change: ChangeSet;
  folder: string;
  /** Of the request: carried out once. */
  key: string | undefined;
  /** Carries out a command that needs nothing more. */
  carry(command: Command): Promise<Outcome<ChangeSet>>;
}

type RequestName = CommandRequest["kind"];
type RequestOf<K extends RequestName> = Omit<Extract<CommandRequest, { kind: K }>, "key">;
type Carried = Promise<Outcome<ChangeSet>>;

/** The requests to which something is added before they are commands: ids, what git says, what was not sent yet. The others are commands as they are. */
const PREPARED: { [K in RequestName]?: (carrying: Carrying, request: RequestOf<K>) => Carried } & {
  [K in Exclude<RequestName, CommandName>]: (carrying: Carrying, request: RequestOf<K>) => Carried;
} = {
  "open-again": async ({ app, change, folder, carry }) => {
    const other = await openFor(app.db, { id: change.repository }, change.source, change.target);
    if (other !== null && other !== change.number)
      return refuse("conflict", `Change set ${other} is open from ${change.source} into ${change.target} meanwhile.`);
    if (!(await branchCommit(folder, change.source)))
      return refuse("conflict", `The branch ${change.source} is gone: push it again first.`);
    return carry({ kind: "open-again" });
  },
  merge: ({ app, person, change, folder }, request) => merge(app, person, change, folder, request),
  retarget: ({ app, person, change, folder }, { target }) => retarget(app, person, change, folder, target),
  revise: async ({ app, person, change, folder }) => {
    const revision = await readRevision(folder, change.source, change.target);
    return revision.ok ? revise(app, person, change, folder, revision.value) : revision;
  },
  take: ({ app, person, change, folder }, { message }) => takePicked(app, person, change, folder, message),
  "send-review": (carrying, review) => sendReview(carrying, review),
  "send-one": async (carrying, { note }) => {
    const reply = await unsentReply(carrying, note);
    if (reply) return sendReply(carrying, reply);
    const revision = newest(carrying.change).number;
    return sendReview(carrying, { revision, verdict: "none", remark: "" }, note);
  },
  label: ({ app, person, change, key }, request) =>
    transact(app, person, change.id, request, {
      key,
      unless: (tx) => unknownLabel(tx, change.repository, request.put),
    }),
  reply: ({ app, carry }, request) => carry({ ...request, kind: "reply", comment: app.newId() }),
  resolve: ({ app, carry }, request) => carry({ ...request, kind: "resolve", comment: app.newId() }),
  edit: async ({ app, change, folder, carry }, { suggestions, ...rest }) => {
    if (!suggestions) return carry({ ...rest, kind: "edit" });
    const thread = change.threads.find(({ id }) => id === rest.thread);
    if (!thread) return refuse("missing", "There is no such thread in this change set.");
    const fixed = await fixSuggestions(folder, thread.anchor, suggestions);
    if (!fixed.ok) return fixed;
    // Who has the old one on their screen picks that, and not what became of it.
    const named = fixed.value.map((made) => {
      const old = thread.suggestions.find(({ id }) => id === made.id);
      return old && !sameSuggestion(old, made) ? { ...made, id: app.newId() } : made;
    });
    return carry({ ...rest, kind: "edit", suggestions: named });
  },
};

/** Carries a request about an existing change set out, or says why not. */
export async function carryOut(
  app: AppContext,
  person: Person,
  repositoryName: string,
  number: number,
  request: CommandRequest,
): Promise<Outcome<ChangeSet>> {
  const found = await findChange(app, person, repositoryName, number);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const { key, ...asked } = request;
  if (key && (await wasCarriedOut(app.db, person, key))) return done(change);
  const carry = (command: Command) => transact(app, person, change.id, command, { key });
  const prepared = PREPARED[asked.kind] as ((carrying: Carrying, request: typeof asked) => Carried) | undefined;
  if (!prepared) return carry(asked as Command);
  return prepared({ app, person, change, folder, key, carry }, asked);
}

async function unsentReply({ app, person, change }: Carrying, id: string): Promise<UnsentReply | null> {
  const mine = await unsentOf(app.db, person, change.id);
  return mine.find((note) => note.id === id && note.kind === "reply") as UnsentReply | null;
}

/** An answer that waited, sent by itself: as one that never did. */
function sendReply({ app, person, change, key }: Carrying, { id, thread, body, resolves }: UnsentReply): Carried {
  const command = { kind: resolves ? ("resolve" as const) : ("reply" as const), thread, body, comment: app.newId() };
  const also = (tx: Queries) =>
    tx
      .deleteFrom("unsent")
      .where("id", "=", id)
      .execute()
      .then(() => undefined);
  return transact(app, person, change.id, command, { key, also });
}

/** Sends what a person has not sent as one event; `only` one of their notes, where it is named. */
function sendReview(
  { app, person, change, key }: Carrying,
  review: { revision: number; read?: CommitsRead; verdict: Verdict; remark: string },
  only: string | null = null,
): Carried {
  const { revision, read, verdict, remark } = review;
  return execute(
    app,
    person,
    change.id,
    "send-review",
    async (tx) => ({
      kind: "send-review",
      revision,
      verdict,
      remark,
      ...(read ? { read } : {}),
      ...(await gatherReview(app, tx, person, change.id, only)),
    }),
    {
      key,
      also: async (tx) => {
        let drop = tx.deleteFrom("unsent").where("change_set", "=", change.id).where("person", "=", person.id);
        if (only !== null) drop = drop.where("id", "=", only);
        await drop.execute();
      },
    },
  );
}
