import type { ReviewEvent } from "@/core/review/events";
import type { AppContext } from "../app/context";
import { FollowsLog } from "../app/follows-log";
import { messageOf } from "./message";
import { post } from "./post";

const EVERY = 2_000;
const AT_ONCE = 10;
const AT_ONCE_EACH = 3;
const MOST_LOOKED_AT = 200;
/** Between tries, in milliseconds; after the last it is given up, and can be sent again by hand. Three days in all. */
const PAUSES = [
  5_000,
  30_000,
  120_000,
  600_000,
  3_600_000,
  6 * 3_600_000,
  12 * 3_600_000,
  24 * 3_600_000,
  24 * 3_600_000,
];
/** What was delivered is shown for so long. */
const SHOWN_FOR = 14 * 24 * 3_600_000;

/**
 * Tells the webhooks of a repository, and those of all, what happens, from the log: each message is written down before it is sent, tried again until it is taken, and
 * signed by the Standard Webhooks scheme. Of one change set one message goes after the other, in the order of the log.
 */
export class Deliveries extends FollowsLog {
  constructor(
    app: AppContext,
    private readonly settings: { address: string; within: boolean },
  ) {
    super(app, { name: "hooks", every: EVERY, failing: "webhooks could not be told" });
  }

  /** Writes down what is to be told of an event, once for each webhook. */
  protected override async handle(event: ReviewEvent): Promise<void> {
    const { db } = this.app;
    const of = await db
      .selectFrom("change_sets")
      .select("repository")
      .where("id", "=", event.stream)
      .executeTakeFirst();
    if (!of) return;
    const hooks = await db
      .selectFrom("hooks")
      .selectAll()
      .where((where) => where.or([where("repository", "=", of.repository), where("repository", "is", null)]))
      .execute();
    const wanted = hooks.filter(({ kinds }) => kinds === "[]" || (JSON.parse(kinds) as string[]).includes(event.kind));
    if (wanted.length === 0) return;
    const body = JSON.stringify(await messageOf(this.app, event, this.settings.address));
    for (const { id: hook } of wanted)
      await db
        .insertInto("deliveries")
        .values({
          id: this.app.newId(),
          hook,
          change_set: event.stream,
          event: event.id,
          kind: event.kind,
          body,
          at: event.at,
          tries: 0,
          due_at: this.app.now(),
          done_at: null,
          answer: "",
        })
        .onConflict((conflict) => conflict.doNothing())
        .execute();
  }

  /** Sends what is due: of each change set and webhook the first that is not done with. */
  protected override async afterwards(): Promise<void> {
    const { db } = this.app;
    const now = this.app.now();
    // However many wait for a receiver that is away, those of others are found.
    const first = db
      .selectFrom("deliveries")
      .select(({ fn }) => fn.min("id").as("id"))
      .where("due_at", "is not", null)
      .groupBy(["hook", "change_set"]);
    const ready = await db
      .selectFrom("deliveries")
      .innerJoin("hooks", "hooks.id", "deliveries.hook")
      .select(["deliveries.id", "deliveries.hook", "deliveries.tries", "hooks.url", "hooks.secret"])
      .where("deliveries.id", "in", first)
      .where("due_at", "<=", now)
      .orderBy("due_at")
      .limit(MOST_LOOKED_AT)
      .execute();
    // A slow receiver takes a few places and no more.
    const taken = new Map<string, number>();
    const due = ready
      .filter(({ hook }) => {
        taken.set(hook, (taken.get(hook) ?? 0) + 1);
        return taken.get(hook)! <= AT_ONCE_EACH;
      })
      .slice(0, AT_ONCE);
    await Promise.all(
      due.map(async ({ id, url, secret, tries }) => {
        const { body } = await db
          .selectFrom("deliveries")
          .select("body")
          .where("id", "=", id)
          .executeTakeFirstOrThrow();
        const at = new Date(now);
        const { Webhook } = await import("standardwebhooks");
        const headers = {
          "webhook-id": id,
          "webhook-timestamp": String(Math.floor(now / 1000)),
          "webhook-signature": new Webhook(secret).sign(id, at, body),
        };
        const { status, answer } = await post(new URL(url), body, headers, this.settings.within);
        const isTaken = status !== null && status >= 200 && status < 300;
        const pause = PAUSES[tries];
        // A receiver that says that it is gone is not asked again.
        const again = !isTaken && status !== 410 && pause !== undefined;
        await db
          .updateTable("deliveries")
          .set({
            tries: tries + 1,
            answer: answer.slice(0, 600),
            done_at: isTaken ? now : null,
            due_at: again ? now + pause : null,
          })
          .where("id", "=", id)
          .execute();
        if (isTaken) this.app.bell.ring();
      }),
    );
    await db
      .deleteFrom("deliveries")
      .where("done_at", "<", now - SHOWN_FOR)
      .execute();
  }
}
