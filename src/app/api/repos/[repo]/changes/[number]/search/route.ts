import type { SearchLine } from "@/core/reading/finding/search";
import { inPersonsTurn } from "@/server/access/allowances";
import { askedReading } from "@/server/app/http/asked";
import { jsonLines } from "@/server/app/http/json-lines";
import { serve } from "@/server/app/serve";
import { searchReading } from "@/server/reading/searching";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/search", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { folder, points } = reading.value;
  const { app, person, request, query } = asked;
  return jsonLines<SearchLine>((say) =>
    inPersonsTurn(app, person, request.signal, () => searchReading(app, folder, points, query, say, request.signal)),
  );
});
