import * as v from "valibot";
import { lastLine, tailOf } from "@/core/checks/log";
import { checkName } from "@/core/checks/request";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { type ChangeSet, newest } from "@/core/review/state";
import type { LogView } from "@/core/views/keeping-view";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { mayReport } from "./checking";

/** A log is kept for so long after it was last written to, in milliseconds. */
const KEPT_FOR = 30 * 24 * 3_600_000;

/** Takes the end of what a check has written so far, and how far it is, in the place of what was known before. It is no part of the review, and of no account at the gate. */
export async function takeLog(
  app: AppContext,
  person: Person,
  repository: string,
  commit: string,
  name: string,
  log: { text: string; part: number | null },
): Promise<Outcome<null>> {
  const named = v.safeParse(checkName, name);
  if (!named.success) return refuse("invalid", named.issues[0].message);
  const may = await mayReport(app, person, repository, commit, "logs");
  if (!may.ok) return may;
  const said = { tail: tailOf(log.text), part: log.part, at: app.now() };
  await app.db
    .insertInto("check_logs")
    .values({ repository: may.value.id, commit, name: named.output, person: person.id, ...said })
    .onConflict((conflict) => conflict.columns(["repository", "commit", "name", "person"]).doUpdateSet(said))
    .execute();
  return done(null);
}

/** The logs of the checks of the newest revision, each by its last line. */
export async function logsOf(app: AppContext, change: ChangeSet): Promise<LogView[]> {
  const rows = await app.db
    .selectFrom("check_logs")
    .select(["name", "person", "tail", "part", "at"])
    .where("repository", "=", change.repository)
    .where("commit", "=", newest(change).head)
    .orderBy("name")
    .execute();
  return rows.map(({ name, person, tail, part, at }) => ({ name, by: person, part, at, last: lastLine(tail) }));
}

/** The end of one of them; an empty text where there is none. */
export async function logOf(app: AppContext, change: ChangeSet, name: string, by: string): Promise<string> {
  const row = await app.db
    .selectFrom("check_logs")
    .select("tail")
    .where("repository", "=", change.repository)
    .where("commit", "=", newest(change).head)
    .where("name", "=", name)
    .where("person", "=", by)
    .executeTakeFirst();
  return row?.tail ?? "";
}

/** Forgets logs that nothing was written to for long. */
export async function forgetLogs(app: AppContext): Promise<void> {
  await app.db
    .deleteFrom("check_logs")
    .where("at", "<", app.now() - KEPT_FOR)
    .execute();
}
