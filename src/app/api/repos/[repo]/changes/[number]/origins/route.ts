import { newest } from "@/core/review/state";
import { askedReading, type ChangeParts } from "@/server/asked";
import { originsOf } from "@/server/history";
import { refused, signedIn } from "@/server/http";

/** Which commits touched the changed lines of one file. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return refused(reading.refusal);
  const { change, folder, points } = reading.value;
  const path = asked.url.searchParams.get("path") ?? "";
  return Response.json(await originsOf(asked.lens, folder, points, path, newest(change).base));
});
