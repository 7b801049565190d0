import { refuse } from "@/core/outcome";
import { MOST_STREAMS } from "@/server/access/allowances";
import { roleOf } from "@/server/access/people";
import { personOfSession } from "@/server/access/sessions";
import { bearerOf } from "@/server/access/tokens";
import { askedChange, type ChangeParts } from "@/server/app/asked";
import { cookieOf, refused, signedIn } from "@/server/app/http";
import { newsOf } from "@/server/news/live";

/** What happens to a change set while its page is open, as long as who listens is signed in and may see it. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  const { lens, person, request } = asked;
  const { id, repository } = found.value.change;
  const open = await lens.kept<{ many: number }>("streams", 5_000).get(person.id, async () => ({ many: 0 }));
  if (open.many >= MOST_STREAMS)
    return refused(refuse("too-many", `${MOST_STREAMS} pages of yours are open here: close some.`).refusal);
  open.many++;
  const still = async () => {
    const known =
      (await personOfSession(lens, cookieOf(request))) ??
      (await bearerOf(lens, request.headers.get("authorization")))?.person;
    return known?.id === person.id && (await roleOf(lens.db, person.id, repository)) !== null;
  };
  return new Response(
    newsOf(lens, id, request.signal, still, () => open.many--),
    {
      headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
    },
  );
});
