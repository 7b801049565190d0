import { askedReading, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { readingFor } from "@/server/reading/reading";

/** The files between two points of a change set; with `whole`, only when all of it has been compared. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return refused(reading.refusal);
  const { change, folder, name, points } = reading.value;
  const whole = asked.url.searchParams.has("whole");
  return Response.json(await readingFor(asked.lens, asked.person, change, folder, name, points, whole));
});
