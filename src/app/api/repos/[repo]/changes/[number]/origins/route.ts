import { newest } from "@/core/review/state";
import { askedReading, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { originsOf } from "@/server/reading/history";

/** Which commits touched the changed lines of one file. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return refused(reading.refusal);
  const { change, folder, points } = reading.value;
  const path = asked.url.searchParams.get("path") ?? "";
  return Response.json(await originsOf(asked.lens, folder, points, path, newest(change).base));
});
