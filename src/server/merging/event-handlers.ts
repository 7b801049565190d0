import { type ChangeSet, newest } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import { linkedItems } from "@/core/work/trailers";
import { loadChangeSet, loadChangeSets } from "@/store/log";
import { personById } from "../access/people";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { Repeated } from "../app/repeated";
import { Subscriber } from "../app/subscriber";
import { carryChains } from "../changes/chains";
import { transact } from "../changes/deciding";
import { trackerOf } from "../changes/tracker";
import { tidy } from "../refs/tidy";
import { gateFactsFor, shapesOf } from "../rules/facts";
import { ruleFor } from "../rules/rules";
import { messageForMerge } from "./merge-preview";
import { merge } from "./merging";

/** What the command line writes rings no bell, and freezes end by the clock. */
const EVERY = 5_000;

/**
 * Does what follows from an event and is nobody's deed of the moment: ends the work items of what was merged, deletes the branch that was
 * merged where the rule says so, and merges what was to be merged as soon as the gate opens. Goes on in the log from where it was.
 */
export class EventHandlers {
  private readonly steps: Repeated;
  /** Change sets that cannot be merged by themselves, and nobody is left to be told so. */
  private readonly givenUp = new Set<string>();

  constructor(private readonly app: AppContext) {
    // Each of these can be done twice without harm.
    const follower = new Subscriber(app, "errands", async (event) => {
      if (event.kind !== "merged") return;
      const change = await loadChangeSet(app.db, event.stream);
      if (change) await this.afterMerge(change);
    });
    const work = async () => {
      await follower.step();
      await this.mergeWaiting();
    };
    const failed = (error: unknown) => app.log.error({ err: error }, "an errand failed");
    this.steps = new Repeated(EVERY, work, failed, app.bell);
  }

  start(): void {
    this.steps.start();
  }

  stop(): Promise<void> {
    return this.steps.stop();
  }

  step(): Promise<void> {
    return this.steps.step();
  }

  private async afterMerge(change: ChangeSet): Promise<void> {
    const folder = folderOf(this.app, { id: change.repository });
    const messages = (await shapesOf(this.app, folder, change)).map(({ message }) => message);
    const tracker = trackerOf(this.app, change.repository);
    for (const { item, closes } of linkedItems(change.links, change.description, messages))
      if (closes) await tracker.close(item, change.id);
    await carryChains(this.app, change);
    await tidy(this.app, change, folder);
  }

  private async mergeWaiting(): Promise<void> {
    const { db } = this.app;
    const rows = await db
      .selectFrom("change_sets")
      .select("id")
      .where("merge_asked", "=", 1)
      .where("state", "=", "open")
      .execute();
    const changes = await loadChangeSets(
      db,
      rows.map(({ id }) => id),
    );
    for (const change of changes) await this.mergeIfOpen(change);
  }

  private async mergeIfOpen(change: ChangeSet): Promise<void> {
    const { app } = this;
    if (!change.mergeAsked || this.givenUp.has(change.id)) return;
    const rule = await ruleFor(app.db, change.repository, change.target);
    if (!evaluateGate(change, rule, await gateFactsFor(app, app.db, change, rule)).open) return;
    const person = await personById(app.db, change.mergeAsked.by);
    if (!person) return;
    const { kind: how, message } = change.mergeAsked;
    const folder = folderOf(app, { id: change.repository });
    const words = message ?? (await messageForMerge(app, change, folder, how));
    const request = { revision: newest(change).number, message: words, how };
    const merged = await merge(app, person, change, folder, request);
    if (merged.ok) return;
    // Said once, to those who look: it does not go on trying against a conflict. Who asked may have lost the right to say so meanwhile.
    const why = { kind: "merge-not" as const, why: merged.refusal.reason };
    for (const id of new Set([person.id, change.author])) {
      const teller = await personById(app.db, id);
      if (teller && (await transact(app, teller, change.id, why)).ok) return;
    }
    this.givenUp.add(change.id);
  }
}
