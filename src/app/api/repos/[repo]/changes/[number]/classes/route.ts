import { askedReading, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { classesOf } from "@/server/reading/reading";

/** Which lines of one file are quiet, and why. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return refused(reading.refusal);
  const { folder, points } = reading.value;
  return Response.json(await classesOf(asked.lens, folder, points, asked.url.searchParams.get("path") ?? ""));
});
