import type { EventName, ReviewEvent } from "@/core/review/events";
import { kindOf } from "@/core/review/evolve";
import { outside } from "@/git/outside";
import { eventsAfter, lastEvent, loadChangeSet } from "@/store/log";
import { namesOf } from "../access/people";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

/** That something happened to a change set; what it is, who asks may read. */
export interface News {
  kind: EventName;
  by: string;
  /** What open pages tell of it, without a full stop; null where they tell nothing. */
  says: string | null;
}

/** What other processes write, such as the command line, rings no bell here. */
const EVERY = 5_000;
const STILL_THERE = 25_000;
/** How often it is asked whether who listens still may. */
const LOOKED_EVERY = 5_000;

/** Stands for every change set, for who listens to more than one. */
export const ANY = "any";

type Tell = (news: News, change: string) => void;

/** Looks at the log for all open pages together, as long as there are any. */
class Newsroom {
  private readonly listeners = new Map<string, Set<Tell>>();
  private timer: NodeJS.Timeout | null = null;
  private leave: (() => void) | null = null;
  private position = 0;
  private looking: Promise<void> = Promise.resolve();

  constructor(private readonly app: AppContext) {}

  /** Tells of what happens to a change set, or to any, from now on, until the function that it gives is called. */
  async listen(change: string | typeof ANY, tell: Tell): Promise<() => void> {
    if (!this.timer) {
      this.timer = outside(() => setInterval(() => void this.look(), EVERY));
      this.timer.unref();
      this.leave = this.app.bell.listen(() => void this.look());
      this.looking = lastEvent(this.app.db).then((position) => {
        this.position = position;
      });
    }
    const those = this.listeners.get(change) ?? new Set();
    this.listeners.set(change, those.add(tell));
    await this.looking;
    return () => {
      those.delete(tell);
      if (those.size === 0) this.listeners.delete(change);
      if (this.listeners.size > 0 || !this.timer) return;
      clearInterval(this.timer);
      this.timer = null;
      this.leave?.();
    };
  }

  private async newsOf(event: ReviewEvent): Promise<News> {
    const { kind, by } = event;
    const { live, says } = kindOf(event);
    const change = live ? await loadChangeSet(this.app.db, event.stream) : null;
    if (!change) return { kind, by, says: null };
    const names = await namesOf(this.app.db);
    const name = (id: string) => names.get(id) ?? "someone";
    return { kind, by, says: says(event, { change, address: "", name }) };
  }

  private look(): Promise<void> {
    this.looking = this.looking.then(async () => {
      try {
        const events = await eventsAfter(this.app.db, this.position, 500);
        this.position = events.at(-1)?.position ?? this.position;
        for (const { event } of events) {
          const listeners = [...(this.listeners.get(event.stream) ?? []), ...(this.listeners.get(ANY) ?? [])];
          if (listeners.length === 0) continue;
          const news = await this.newsOf(event);
          for (const tell of listeners) tell(news, event.stream);
        }
      } catch (error) {
        this.app.log.warn({ err: error }, "news could not be looked for");
      }
    });
    return this.looking;
  }
}

const NEWSROOM = shelf<Newsroom>("newsroom", 1);

/**
 * What happens to one change set, or to any that `hears` lets through, from now on, as server-sent events; ends when `signal` says so,
 * and as soon as who listens may not see it any more: `still` is asked before each word and every few seconds. `ended` is called once,
 * however it ends.
 */
export function newsOf(
  app: AppContext,
  change: string | typeof ANY,
  {
    signal,
    still,
    hears,
    ended = () => undefined,
  }: {
    signal: AbortSignal;
    still: () => Promise<boolean>;
    /** Whether who listens to any of them may hear of this one. They are told that something happened, and not what. */
    hears?: (change: string) => Promise<boolean>;
    ended?: () => void;
  },
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let gone = false;
  // Who goes before it is heard for them is let go as soon as it is.
  let stop = () => {
    gone = true;
  };
  let over = false;
  return new ReadableStream({
    async start(controller) {
      const say = (words: string) => controller.enqueue(encoder.encode(`${words}\n\n`));
      const room = await NEWSROOM(app).get("", async () => new Newsroom(app));
      // One after the other, so that what is told keeps its order.
      let turn = Promise.resolve();
      const ifStill = (then: () => void) => {
        turn = turn
          .then(still)
          .then((may) => (over ? undefined : may ? then() : end()))
          .catch(() => end());
      };
      const tell: Tell = (news, from) => {
        if (!hears) return ifStill(() => say(`data: ${JSON.stringify(news)}`));
        turn = turn
          .then(() => hears(from))
          .then((may) => void (may && !over && say("data: {}")))
          .catch(() => end());
      };
      const leave = await room.listen(change, tell);
      // A word now and then keeps what stands between from hanging up.
      const timer = setInterval(() => ifStill(() => say(": still there")), STILL_THERE);
      const looks = setInterval(() => ifStill(() => undefined), LOOKED_EVERY);
      stop = () => {
        if (over) return;
        over = true;
        ended();
        clearInterval(timer);
        clearInterval(looks);
        leave();
      };
      const end = () => {
        if (over) return;
        stop();
        controller.close();
      };
      if (gone) return stop();
      if (signal.aborted) return end();
      signal.addEventListener("abort", end, { once: true });
      say(": hello");
    },
    cancel: () => stop(),
  });
}
