import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { enter } from "@/server/access/repositories";
import { askedBlob } from "@/server/app/http/asked";
import { readyJson } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";

/** As JSON, as the threads give them. */
const NONE = "[]";

export const GET = serve("GET /api/repos/{repo}/colours", async (asked) => {
  const entered = await enter(asked.app, asked.person, asked.parts.repo);
  if (!entered.ok) return entered;
  const { old, new: next, path } = asked.query;
  const coloursOf = async (id: string | undefined): Promise<Outcome<string>> => {
    if (!id) return done(NONE);
    const blob = await askedBlob(asked, { id, path });
    return blob.ok ? done(await asked.app.workers.colour(blob.value)) : blob;
  };
  const wanted = [old, next].filter((id) => id).length;
  if (wanted === 0) return refuse("invalid", "Give the object id of a blob, or one for each side.");
  const sides = await Promise.allSettled([old, next].map(coloursOf));
  const wrong = sides.filter((side) => side.status === "rejected" || !side.value.ok);
  if (wrong.length === wanted) {
    const [first] = wrong;
    if (first.status === "rejected") throw first.reason;
    return first.value as ReturnType<typeof refuse>;
  }
  const [before, after] = sides.map((side) => (side.status === "fulfilled" && side.value.ok ? side.value.value : NONE));
  // One side alone is better than none, but it is asked for again.
  return readyJson(`{"old":${before},"new":${after}}`, wrong.length === 0);
});
