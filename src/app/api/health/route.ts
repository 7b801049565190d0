import { healthOf } from "@/server/app/health";
import { forEveryone } from "@/server/app/http";

export const dynamic = "force-dynamic";

/** Answers 200 when everything can be read and written, 503 with a sentence when not. */
export const GET = forEveryone(async ({ lens }) => {
  const { well, why } = await healthOf(lens);
  return Response.json(
    { well, ...(why ? { why } : {}) },
    { status: well ? 200 : 503, headers: { "cache-control": "no-store" } },
  );
});
