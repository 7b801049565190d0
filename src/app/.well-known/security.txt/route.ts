import { app } from "@/server/app/context";

const YEAR = 365 * 86_400_000;

/** Whom to tell of a hole in this installation (RFC 9116), where that is set. */
export async function GET(): Promise<Response> {
  const { settings, now } = await app();
  if (settings.securityContact === null) return new Response(null, { status: 404 });
  const expires = new Date(now() + YEAR).toISOString();
  const lines = [`Contact: ${settings.securityContact}`, `Expires: ${expires}`, "Preferred-Languages: en", ""];
  return new Response(lines.join("\n"), { headers: { "content-type": "text/plain; charset=utf-8" } });
}
