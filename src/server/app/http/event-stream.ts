import { type Outcome, refuse } from "@/core/plain/outcome";
import { MOST_STREAMS, STREAMS } from "../../access/allowances";
import { newsOf } from "../../news/live";
import type { AppContext } from "../context";
import { type Asker, askerOf } from "../serve";

/**
 * News for as long as who asks listens and may hear them: of one change set, or of any (see {@link newsOf}). So many pages of one
 * person can listen at once, and no more.
 */
export async function eventStream(
  { app, person, request, from }: Pick<Asker, "person"> & { app: AppContext; request: Request; from: string },
  change: string,
  may: (person: string) => Promise<boolean>,
  hears?: (change: string) => Promise<boolean>,
): Promise<Response | Outcome<never>> {
  const open = await STREAMS(app).get(person.id, async () => ({ many: 0 }));
  if (open.many >= MOST_STREAMS) return refuse("too-many", `${MOST_STREAMS} pages of yours are open here: close some.`);
  open.many++;
  const still = async () => {
    const known = await askerOf(app, request, from);
    return known.ok && known.value.person.id === person.id && (await may(person.id));
  };
  const body = newsOf(app, change, { signal: request.signal, still, hears, ended: () => open.many-- });
  return new Response(body, {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
}
