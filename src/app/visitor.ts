import { cookies, headers } from "next/headers";
import { redirect } from "next/navigation";
import { cache } from "react";
import type { Me } from "@/core/views/api";
import type { Person } from "@/server/access/person";
import { portraitOf } from "@/server/access/portraits";
import { COOKIE, personOfSession } from "@/server/access/sessions";
import { type AppContext, app } from "@/server/app/context";

/** Whose session the browser shows; looked up once for a page and what it stands in. Null for nobody's. */
export const signedIn = cache(async () => {
  const session = (await cookies()).get(COOKIE)?.value;
  return personOfSession(await app(), session);
});

/** Who looks at a page. Those who are not signed in are sent to the sign-in page, and come back after it. */
export async function visitor(path: string) {
  const installation = await app();
  const person = await signedIn();
  if (!person) redirect(`/sign-in?next=${encodeURIComponent(path)}`);
  return { app: installation, person, me: await meOf(installation, person) };
}

/** Somebody as the pages show them to themselves; looked up once for a page and what it stands in. */
export const meOf = cache(async (installation: AppContext, person: Person): Promise<Me> => {
  const { name, fullName, administrator } = person;
  return { name, fullName, administrator, portrait: await portraitOf(installation, person) };
});

/** Where this installation is reached: as it is set, or as the visitor came. */
export async function ownAddress({ settings }: AppContext): Promise<string> {
  if (settings.address) return settings.address;
  const head = await headers();
  return `${head.get("x-forwarded-proto") ?? "http"}://${head.get("host") ?? `localhost:${settings.port}`}`;
}
