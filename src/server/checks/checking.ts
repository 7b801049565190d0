import { sql } from "kysely";
import * as v from "valibot";
import { type ChangedLines, coverageOf, isBelow } from "@/core/checks/coverage";
import { asKept, hasFailed, type Report, summaryOf } from "@/core/checks/report";
import { checkName } from "@/core/checks/request";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { Checked } from "@/core/review/shapes";
import { type ChangeSet, newest } from "@/core/review/state";
import { checksOf } from "@/core/rules/checks";
import type { FindingsView } from "@/core/views/keeping-view";
import { changesAt, filesIn, resolveCommit } from "@/git/repository";
import { among } from "@/store/among";
import type { Queries } from "@/store/database";
import { loadChangeSets } from "@/store/log";
import { allow } from "../access/allowances";
import type { Person } from "../access/person";
import { enter } from "../access/repositories";
import type { AppContext } from "../app/context";
import { transact } from "../changes/deciding";
import { readingOf } from "../reading/reading";
import { statesOf } from "../reading/states";

/**
 * Records what a check says of a commit, in every change set of which that is a revision. What it tells of lines that tests ran is told of the lines that each of
 * them changes; where fewer than `least` percent of those were run, it failed.
 */
export async function report(
  app: AppContext,
  person: Person,
  repositoryName: string,
  commit: string,
  said: Omit<Checked, "commit" | "report">,
  reported: Report | null = null,
  least = 0,
): Promise<Outcome<ChangeSet[]>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  if (!/^[0-9a-f]{40,64}$/.test(commit)) return refuse("invalid", "A commit is named by its whole id here.");
  const changes = await changesWith(app, entered.value.folder, commit);
  if (changes.length === 0)
    return refuse(
      "missing",
      `No change set of ${repositoryName} has ${commit.slice(0, 12)} as a revision: there is nothing to report on.`,
    );
  const recorded: ChangeSet[] = [];
  for (const change of changes) {
    let found = reported;
    if (reported?.coverage) {
      const changed = await changedLinesOf(app, person, entered.value.folder, change, commit);
      if (!changed.ok) return changed;
      found = coverageOf(reported.coverage, changed.value);
    }
    const id = found ? app.newId() : null;
    const told: typeof said = found?.changed
      ? {
          ...said,
          state: said.state === "passed" && isBelow(found.changed, least) ? "failed" : said.state,
          summary: summaryOf(found),
        }
      : said;
    const checked = { ...told, commit, report: id };
    const also = async (tx: Queries, { checks }: ChangeSet) => {
      const before = checks.find((one) => one.by === person.id && one.commit === commit && one.name === said.name);
      // What was found is kept once, for what counts: of a report that came before nothing is left but that it was.
      if (before?.report) await tx.deleteFrom("reports").where("id", "=", before.report).execute();
      if (found && id)
        await tx
          .insertInto("reports")
          .values({ id, change_set: change.id, result: JSON.stringify(asKept(found)) })
          .execute();
    };
    const decided = await transact(app, person, change.id, { kind: "report", checked }, { also });
    if (!decided.ok) return decided;
    recorded.push(decided.value);
  }
  return done(recorded);
}

/** The lines that a revision brings and that are to be read. */
async function changedLinesOf(
  app: AppContext,
  person: Person,
  folder: string,
  change: ChangeSet,
  commit: string,
): Promise<Outcome<ChangedLines[]>> {
  const revision = change.revisions.findLast(({ head }) => head === commit)!;
  const states = await statesOf(app, person, change, folder, "base", `r${revision.number}`);
  if (!states.ok) return states;
  const { files } = await readingOf(app, folder, states.value);
  return done(
    files.map(({ path, runs }) => ({
      path,
      lines: runs.filter((run) => run.side === "new" && run.class === "read"),
    })),
  );
}

/** Whether someone may report on a commit at all, or tell its log: asked before that is read. */
export async function mayReport(
  app: AppContext,
  person: Person,
  repositoryName: string,
  commit: string,
  action: "reports" | "logs" = "reports",
): Promise<Outcome<{ id: string; folder: string }>> {
  const entered = await enter(app, person, repositoryName, "contributor");
  if (!entered.ok) return entered;
  if (!/^[0-9a-f]{40,64}$/.test(commit)) return refuse("invalid", "A commit is named by its whole id here.");
  const { folder, repository } = entered.value;
  if ((await changesWith(app, folder, commit)).length === 0)
    return refuse(
      "missing",
      `No change set of ${repositoryName} has ${commit.slice(0, 12)} as a revision: there is nothing to report on.`,
    );
  return (await allow(app, person, action)) ?? done({ id: repository.id, folder });
}

/** Takes a report in any of the open formats, whichever it is; its state follows from what it found. */
export async function takeReport(
  app: AppContext,
  person: Person,
  repositoryName: string,
  commit: string,
  given: string,
  folder: string,
  bytes: Uint8Array,
  { signal, least }: { signal?: AbortSignal; least?: number } = {},
): Promise<Outcome<ChangeSet[]>> {
  const named = v.safeParse(checkName, given);
  if (!named.success) return refuse("invalid", named.issues[0].message);
  const read = await readReportOf(app, folder, commit, bytes, signal);
  if (!read.ok) return read;
  const state = hasFailed(read.value) ? "failed" : "passed";
  return report(
    app,
    person,
    repositoryName,
    commit,
    { name: named.output, state, summary: summaryOf(read.value), link: "" },
    read.value,
    least,
  );
}

/** What a report says of a commit: its findings at the files that the commit has. */
export async function readReportOf(
  app: AppContext,
  folder: string,
  commit: string,
  bytes: Uint8Array,
  signal?: AbortSignal,
): Promise<Outcome<Report>> {
  const isHere = (await resolveCommit(folder, commit)) === commit;
  const paths = isHere ? (await filesIn(folder, commit)).map(({ path }) => path) : null;
  return app.workers.report({ bytes, paths }, signal);
}

/** Change sets that have a revision of this commit. A ref may be of one that was refused after all: so each is asked. */
async function changesWith(app: AppContext, folder: string, commit: string): Promise<ChangeSet[]> {
  const changes = await loadChangeSets(app.db, await changesAt(folder, commit));
  return changes.filter(({ revisions }) => revisions.some(({ head }) => head === commit));
}

/** Of what checks found so much is told at once, as characters of JSON; of what comes behind it only how much it is. */
const MOST_TOLD = 8_000_000;

/** What the checks of the newest revision found, by check. */
export async function findingsOf(app: AppContext, change: ChangeSet): Promise<FindingsView[]> {
  const checks = checksOf(change).filter(({ report: id }) => id !== null);
  if (checks.length === 0) return [];
  const isTold = sql<boolean>`sum(length(result)) over (order by id) <= ${MOST_TOLD}`;
  const count = sql`json_array_length(result, '$.findings') + json_extract(result, '$.more')`;
  const rows = await app.db
    .selectFrom("reports")
    .select([
      "id",
      sql<string | null>`case when ${isTold} then result end`.as("result"),
      sql<number | null>`case when not ${isTold} then ${count} end`.as("count"),
    ])
    .where("id", "in", among(checks.map(({ report: id }) => id!)))
    .execute();
  const found = new Map<string, Pick<Report, "findings" | "more" | "tests">>(
    rows.map(({ id, result, count }) => [
      id,
      result ? (JSON.parse(result) as Report) : { findings: [], more: count ?? 0, tests: null },
    ]),
  );
  return checks.flatMap(({ name: check, report: id }): FindingsView[] => {
    const report = found.get(id!);
    if (!report) return [];
    const { findings, more, tests } = report;
    return [{ check, revision: newest(change).number, findings, more, tests }];
  });
}
