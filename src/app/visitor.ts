import { cookies } from "next/headers";
import { redirect } from "next/navigation";
import { lens } from "@/server/lens";
import { COOKIE, personOfSession } from "@/server/sessions";

/** Who looks at a page. Those who are not signed in are sent to the sign-in page, and come back after it. */
export async function visitor(path: string) {
  const session = (await cookies()).get(COOKIE)?.value;
  const installation = await lens();
  const person = await personOfSession(installation, session);
  if (!person) redirect(`/sign-in?next=${encodeURIComponent(path)}`);
  return { lens: installation, person };
}
