import { cookies, headers } from "next/headers";
import { redirect } from "next/navigation";
import { lens } from "@/server/lens";
import { COOKIE, personOfSession } from "@/server/sessions";

/** Who looks at a page. Those who are not signed in are sent to the sign-in page, and come back after it. */
export async function visitor(path: string) {
  const installation = await lens();
  const person = await personOfSession(installation, (await cookies()).get(COOKIE)?.value);
  if (!person) redirect(`/sign-in?next=${encodeURIComponent(path)}`);
  // Pages differ by person: never made ahead of time.
  await headers();
  return { lens: installation, person };
}
