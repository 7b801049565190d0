import { forEveryone } from "@/server/http";

export const dynamic = "force-dynamic";

/** Answers 200 when the database can be read. */
export const GET = forEveryone(async ({ lens }) => {
  await lens.db.selectFrom("people").select("id").limit(1).execute();
  return Response.json({ well: true });
});
