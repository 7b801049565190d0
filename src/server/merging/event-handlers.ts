import { linkedItems } from "@/core/house/work/trailers";
import type { ReviewEvent } from "@/core/review/events";
import { type ChangeSet, newest } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import { loadChangeSet, loadChangeSets } from "@/store/log";
import { personById } from "../access/people";
import { folderOf, nameOfRepository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { FollowsLog } from "../app/follows-log";
import { carryChains } from "../changes/chains";
import { transact } from "../changes/deciding";
import { tidy } from "../refs/tidy";
import { gateFactsFor, seriesOf } from "../rules/facts";
import { ruleFor } from "../rules/rules";
import { trackerOf } from "../work/tracker-of";
import { messageForMerge } from "./merge-preview";
import { merge } from "./merging";

/** What the command line writes rings no bell, and freezes end by the clock. */
const EVERY = 5_000;

/**
 * Does what follows from an event and is nobody's deed of the moment: ends the work items of what was merged, deletes the branch that was
 * merged where the rule says so, and merges what was to be merged as soon as the gate opens. Goes on in the log from where it was.
 */
export class EventHandlers extends FollowsLog {
  /** Change sets that cannot be merged by themselves, and nobody is left to be told so. */
  private readonly givenUp = new Set<string>();

  constructor(app: AppContext) {
    super(app, { name: "errands", every: EVERY, failing: "an errand failed" });
  }

  /** Each of these can be done twice without harm. */
  protected override async handle(event: ReviewEvent): Promise<void> {
    if (event.kind !== "merged") return;
    const change = await loadChangeSet(this.app.db, event.stream);
    if (change) await this.afterMerge(change);
  }

  protected override afterwards(): Promise<void> {
    return this.mergeWaiting();
  }

  private async afterMerge(change: ChangeSet): Promise<void> {
    const folder = folderOf(this.app, { id: change.repository });
    const { named } = await seriesOf(this.app, folder, change);
    await carryChains(this.app, change);
    await tidy(this.app, change, folder);
    // The last: a tracker that is away fails all of it, which then is tried again.
    const name = await nameOfRepository(this.app.db, change.repository);
    const tracker = trackerOf(this.app, { id: change.repository, name });
    const told = { ...change, commit: change.settled?.commit ?? newest(change).head };
    for (const { item, closes } of linkedItems(change.links, change.description, named))
      await tracker.merged(item, closes, told);
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
