import { type Outcome, refuse } from "@/core/plain/outcome";
import { eventsAfter, lastEvent, positionOf } from "@/store/log";
import { MOST_STREAMS, STREAMS } from "../access/allowances";
import { roleOf } from "../access/people";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { messageOf } from "./message";

const AT_ONCE = 100;
/** What other processes write rings no bell here; and a word now and then keeps what stands between from hanging up. */
const EVERY = 5_000;

interface Listening {
  /** The id of the last event that was heard; null for what comes from now on. */
  after: string | null;
  address: string;
  signal: AbortSignal;
  /** Whether who listens still may. */
  still: () => Promise<boolean>;
}

/**
 * What happens in all repositories that somebody sees, in the order of the log, from behind one event on: as server-sent events, each with the id of its own,
 * so that who was cut off goes on where they were. They hear of nothing from the moment on at which they may not.
 */
export async function streamOf(
  app: AppContext,
  person: Person,
  { after, address, signal, still }: Listening,
): Promise<Outcome<never> | Response> {
  const open = await STREAMS(app).get(person.id, async () => ({ many: 0 }));
  if (open.many >= MOST_STREAMS) return refuse("too-many", `${MOST_STREAMS} pages of yours are open here: close some.`);
  const from = after === null ? await lastEvent(app.db) : await positionOf(app.db, after);
  if (from === null) return refuse("missing", "There is no such event: leave it out to hear what comes from now on.");
  open.many++;
  let over = false;
  const end = () => {
    if (!over) open.many--;
    over = true;
  };
  signal.addEventListener("abort", end, { once: true });
  const encoder = new TextEncoder();
  const lines = told(app, person, from, address, signal, still);
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await lines.next();
      if (done) {
        end();
        controller.close();
      } else controller.enqueue(encoder.encode(value));
    },
    cancel: () => {
      end();
      void lines.return(undefined);
    },
  });
  return new Response(body, {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
}

async function* told(
  app: AppContext,
  person: Person,
  from: number,
  address: string,
  signal: AbortSignal,
  still: () => Promise<boolean>,
): AsyncGenerator<string, undefined> {
  // The first word tells that it has begun.
  yield ": listening\n\n";
  for (let position = from; !signal.aborted; ) {
    const rung = nextBell(app, signal);
    if (!(await still())) return;
    const events = await eventsAfter(app.db, position, AT_ONCE);
    for (const { position: at, event } of events) {
      position = at;
      const row = await app.db
        .selectFrom("change_sets")
        .select("repository")
        .where("id", "=", event.stream)
        .executeTakeFirst();
      if (!row || (await roleOf(app.db, person.id, row.repository)) === null) continue;
      const message = await messageOf(app, event, address);
      yield `id: ${event.id}\nevent: ${message.type}\ndata: ${JSON.stringify(message)}\n\n`;
    }
    if (events.length > 0) continue;
    await rung;
    yield ": still there\n\n";
  }
}

/** Until something happens, some time has gone by, or nobody listens. */
function nextBell(app: AppContext, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const end = () => {
      clearTimeout(timer);
      leave();
      signal.removeEventListener("abort", end);
      resolve();
    };
    const timer = setTimeout(end, EVERY);
    const leave = app.bell.listen(end);
    signal.addEventListener("abort", end, { once: true });
  });
}
