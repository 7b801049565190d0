import { searchRequest } from "@/core/api";
import { done } from "@/core/outcome";
import { inPersonsTurn } from "@/server/access/allowances";
import { askedReading, type ChangeParts } from "@/server/app/asked";
import { answer, checked, refused, signedIn } from "@/server/app/http";
import { searchReading } from "@/server/reading/reading";

/** Where words stand in the changed lines of a reading, or in the whole of its files. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const sought = checked(searchRequest, Object.fromEntries(asked.url.searchParams));
  if (!sought.ok) return refused(sought.refusal);
  const reading = await askedReading(asked);
  if (!reading.ok) return refused(reading.refusal);
  const { folder, points } = reading.value;
  const { lens, person, request } = asked;
  return answer(
    await inPersonsTurn(lens, person, request.signal, async () =>
      done(await searchReading(lens, folder, points, sought.value, request.signal)),
    ),
  );
});
