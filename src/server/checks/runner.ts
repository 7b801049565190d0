import { mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, statSync } from "node:fs";
import { rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { CheckCommand } from "@/core/checks/commands";
import { hasFailed, LARGEST_REPORT, type Report, summaryOf } from "@/core/checks/report";
import type { CheckState } from "@/core/review/shapes";
import { type ChangeSet, newest } from "@/core/review/state";
import { checksOf } from "@/core/rules/checks";
import { checkOut } from "@/git/checkout";
import { branchCommit } from "@/git/repository";
import { eventsAfter, lastEvent, loadChangeSets } from "@/store/log";
import { findPerson } from "../access/people";
import type { Person } from "../access/person";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { Repeated } from "../app/repeated";
import { ruleFor } from "../rules/rules";
import { changedHere, commandsAt } from "./changed-here";
import { readReportOf, report } from "./checking";
import { whyNoJail } from "./jail";
import { takeLog } from "./logs";
import { runCommand } from "./run-command";
import { RunningLog } from "./running-log";

/** What the command line writes rings no bell. */
const EVERY = 5_000;

/**
 * The stand-in for a build machine: takes each new revision, checks it out into a folder of its own and runs the commands that the
 * repository's own file names, one after the other. It reports as a machine account. It looks at what is missing rather than at what
 * happened, so that a runner that died goes on where it was when it is started again. What it runs is limited in time, processor time,
 * memory and in what it writes, and gets none of our environment. Where the kernel allows it it runs in a jail, without network and with a
 * file system of its own; where not that is said in the log, and it is for repositories whose writers are trusted.
 */
export class Runner {
  private readonly stopping = new AbortController();
  /** Revisions that were run by this process, by their commits. */
  private readonly ran = new Set<string>();
  private readonly steps: Repeated;
  /** How far the log was looked through for checks that are asked for again; those before are run since they wait. */
  private heard: number | null = null;
  private jail: Promise<boolean> | null = null;

  constructor(
    private readonly app: AppContext,
    /** The name of the machine account. */
    private readonly account: string,
  ) {
    const failed = (error: unknown) => app.log.error({ err: error }, "the runner failed");
    this.steps = new Repeated(EVERY, () => this.runMissing(), failed, app.bell);
  }

  start(): void {
    this.steps.start();
  }

  /** Ends what is being run. */
  stop(): Promise<void> {
    this.stopping.abort();
    return this.steps.stop();
  }

  /** Runs what is to be run now. */
  step(): Promise<void> {
    return this.steps.step();
  }

  /** Whether a jail can be made here; found out, and said, once. */
  private async canJail(): Promise<boolean> {
    this.jail ??= (async () => {
      const place = mkdtempSync(join(tmpdir(), "lens-jail-"));
      try {
        for (const folder of ["root", "tree"]) mkdirSync(join(place, folder));
        const why = await whyNoJail(join(place, "root"), place);
        if (why)
          this.app.log.warn(
            { why },
            "checks run without a jail: with the network, and with all files that this user may read",
          );
        else this.app.log.info("checks run in a jail, without network and with a file system of their own");
        return why === null;
      } finally {
        rmSync(place, { recursive: true, force: true });
      }
    })();
    return this.jail;
  }

  private async runMissing(): Promise<void> {
    const { app } = this;
    const person = await findPerson(app.db, this.account);
    if (!person) return app.log.warn({ account: this.account }, "the runner’s account does not exist");
    const rows = await app.db
      .selectFrom("change_sets")
      .innerJoin("roles", "roles.repository", "change_sets.repository")
      .innerJoin("repositories", "repositories.id", "change_sets.repository")
      .select(["change_sets.id", "change_sets.head", "repositories.name"])
      .where("roles.person", "=", person.id)
      .where("roles.role", "!=", "reader")
      .where("change_sets.state", "in", ["open", "draft"])
      .where("repositories.deleted_at", "is", null)
      .where("repositories.archived_at", "is", null)
      .orderBy("change_sets.changed_at")
      .execute();
    await this.hearAgain();
    const waiting = rows.filter(({ head }) => !this.ran.has(head));
    const changes = await loadChangeSets(
      app.db,
      waiting.map(({ id }) => id),
    );
    for (const [i, change] of changes.entries()) {
      if (this.stopping.signal.aborted) return;
      try {
        await this.runAll(person, waiting[i].name, change);
        if (!this.stopping.signal.aborted) this.ran.add(newest(change).head);
      } catch (error) {
        // It is tried again with the next step; the others do not wait for it.
        app.log.error({ err: error, change: change.id }, "the checks of a change set could not be run");
      }
    }
  }

  /** Revisions of which a check was asked for again since this was looked at last are run again, as far as they wait. */
  private async hearAgain(): Promise<void> {
    this.heard ??= await lastEvent(this.app.db);
    for (;;) {
      const events = await eventsAfter(this.app.db, this.heard, 500);
      for (const { position, event } of events) {
        this.heard = position;
        if (event.kind === "check-asked") this.ran.delete(event.data.commit);
      }
      if (events.length === 0) return;
    }
  }

  private async runAll(person: Person, repository: string, change: ChangeSet): Promise<void> {
    const folder = folderOf(this.app, { id: change.repository });
    const { head } = newest(change);
    const commands = await commandsAt(folder, head);
    if (!commands) return;
    const tell = (name: string, state: CheckState, summary: string, found: Report | null = null) =>
      report(this.app, person, repository, head, { name, state, summary, link: "" }, found);
    if (!commands.ok) {
      await tell("checks", "failed", commands.refusal.reason);
      return;
    }
    const over = new Set(
      checksOf(change).flatMap(({ name, state }) => (state === "waiting" || state === "running" ? [] : [name])),
    );
    const left = commands.value.filter(({ name }) => !over.has(name));
    if (left.length === 0) return;
    const target = { name: change.target, commit: await branchCommit(folder, change.target) };
    const needed = (await ruleFor(this.app.db, change.repository, change.target)).checks;
    const changed = await changedHere(folder, head, target, left, needed);
    for (const { name } of left) await tell(name, "waiting", "");
    for (const command of left) {
      if (this.stopping.signal.aborted) return;
      await tell(command.name, "running", "");
      const log = new RunningLog(
        (text) => takeLog(this.app, person, repository, head, command.name, { text, part: null }),
        (error) => this.app.log.warn({ err: error }, "the log of a check could not be told"),
      );
      log.hear("");
      const ran = await this.runOne(folder, head, command, log);
      await log.end();
      if (!ran) continue;
      await tell(command.name, ran.state, withChanged(ran.summary, changed.get(command.name)), ran.found);
    }
  }

  /** Null when the runner is told to end meanwhile: then it is run again another time. What cannot be begun has failed, whatever hinders it. */
  private async runOne(folder: string, head: string, command: CheckCommand, log: RunningLog): Promise<Ran | null> {
    const place = mkdtempSync(join(tmpdir(), "lens-run-"));
    try {
      return await this.runIn(place, folder, head, command, log);
    } catch (error) {
      if (this.stopping.signal.aborted) return null;
      this.app.log.error({ err: error, commit: head, check: command.name }, "a check could not be run");
      const why = (error instanceof Error ? error.message : String(error)).replaceAll(place, "…");
      return asFailed(`could not be run: ${why.replaceAll(/\s+/g, " ")}`);
    } finally {
      // What ran there may have left what cannot be removed.
      await rm(place, { recursive: true, force: true }).catch((error) =>
        this.app.log.warn({ err: error, place }, "the folder of a check is left behind"),
      );
    }
  }

  private async runIn(place: string, folder: string, head: string, command: CheckCommand, log: RunningLog) {
    const tree = join(place, "tree");
    mkdirSync(tree);
    const written = await checkOut(folder, head, tree, join(place, "index"));
    if (!written.ok) return asFailed(`could not be run: ${written.refusal.reason}`);
    const hear = (text: string) => log.hear(text);
    const jail = await this.canJail();
    const { code, output, ended } = await runCommand(command, place, jail, this.stopping.signal, hear);
    if (this.stopping.signal.aborted) return null;
    if (ended === "late") return asFailed(`ended after ${command.limit} s without an answer`);
    if (ended) return asFailed("ended: it took too much memory");
    const bytes = reportIn(tree, command);
    const found = bytes && (await readReportOf(this.app, folder, head, bytes));
    if (found && !found.ok) return asFailed(found.refusal.reason);
    const read = found?.value ?? null;
    const last = output.trim().split("\n").at(-1)?.trim().slice(0, 300) ?? "";
    const isWrong = code !== 0 || (read !== null && hasFailed(read));
    const summary = read ? summaryOf(read) : code === 0 ? last : last || `ended with ${code}`;
    return { state: isWrong ? ("failed" as const) : ("passed" as const), summary, found: read };
  }
}

/** What came of a command. */
interface Ran {
  state: "passed" | "failed";
  summary: string;
  found: Report | null;
}

function asFailed(why: string): Ran {
  return { state: "failed", summary: why.slice(0, 500), found: null };
}

/** What a check came to, and by what of the change set itself: whoever reads that it passed has to know. */
function withChanged(summary: string, changed: string | undefined): string {
  const said = [summary.slice(0, changed === undefined ? 500 : 300), changed?.slice(0, 190)];
  return said.filter(Boolean).join(", ");
}

/** The report that a command left, if it did; never one that a link leads to elsewhere. */
function reportIn(tree: string, { report: path }: CheckCommand): Buffer | null {
  if (!path) return null;
  try {
    const place = realpathSync(join(tree, path));
    if (!place.startsWith(`${realpathSync(tree)}/`) || statSync(place).size > LARGEST_REPORT + 1) return null;
    return readFileSync(place);
  } catch {
    return null;
  }
}
