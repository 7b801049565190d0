import type { ReviewEvent } from "@/core/review/events";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { loadChangeSet } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { FollowsLog } from "../app/follows-log";
import { leftAloneBy } from "../names/left-alone";
import { gateFactsFor, Look } from "../rules/facts";
import { keepFacts, withoutFacts } from "./change-facts";
import { readingOf } from "./reading";
import { baseOf } from "./since";

/** What the command line writes rings no bell. */
const EVERY = 5_000;
const FEW = 3;
/** After which entries of the log there is something new to compare. */
const COMES = new Set(["opened", "revised", "retargeted", "ready"]);

/**
 * Compares what was pushed before anybody asks for it: the whole of the newest revision, what the gate asks of git, and what is
 * left alone elsewhere. One change set
 * after the other, so that who reads meanwhile has the rest of the machine; what was overtaken by a newer revision is left out. Who
 * asks for one that is being compared waits for the same comparison.
 */
export class Preparing extends FollowsLog {
  private readonly waiting = new Set<string>();
  private working: Promise<void> = Promise.resolve();
  private stopped = false;
  /** What cannot be compared is not tried all the time. */
  private readonly tried = new Set<string>();

  constructor(app: AppContext) {
    super(app, { name: "preparing", every: EVERY, failing: "what was pushed could not be looked for" });
  }

  protected override async handle({ kind, stream }: ReviewEvent): Promise<void> {
    if (!COMES.has(kind) || this.waiting.has(stream)) return;
    this.waiting.add(stream);
    this.working = this.working.then(() => this.prepare(stream));
  }

  /** Begins nothing any more. What is being compared is not waited for: it ends with its worker, and is compared when it is asked for. */
  override async stop(): Promise<void> {
    this.stopped = true;
    await super.stop();
  }

  /** Looks at the log now, and waits until all that it finds there is compared. */
  override async step(): Promise<void> {
    await super.step();
    await this.working;
  }

  /** What an older version left, and what was overtaken: a few at a time, so that what is pushed now does not wait behind them. */
  protected override async afterwards(): Promise<void> {
    if (this.waiting.size > 0) return;
    const left = await withoutFacts(this.app, FEW + this.tried.size);
    for (const id of left.filter((one) => !this.tried.has(one)).slice(0, FEW)) {
      this.tried.add(id);
      this.waiting.add(id);
      this.working = this.working.then(() => this.prepare(id));
    }
  }

  private async prepare(id: string): Promise<void> {
    this.waiting.delete(id);
    if (this.stopped) return;
    try {
      const change = await loadChangeSet(this.app.db, id);
      if (change && goesOn(change)) await this.compare(change);
    } catch (error) {
      // Who reads it is told what is wrong with it.
      this.app.log.info({ err: error, change: id }, "what was pushed could not be compared ahead");
    }
  }

  private async compare(change: ChangeSet): Promise<void> {
    const { app } = this;
    const folder = folderOf(app, { id: change.repository });
    const revision = newest(change);
    const look = new Look(app.db);
    const { id } = await baseOf(app, folder, revision, await look.tip(folder, change.target));
    const rule = await look.rule(change.repository, change.target);
    await gateFactsFor(app, app.db, change, rule, look);
    const points = { from: id, to: revision.head, settings: revision.target };
    await keepFacts(app, change, await readingOf(app, folder, points));
    if (!this.stopped) await leftAloneBy(app, folder, points);
  }
}
