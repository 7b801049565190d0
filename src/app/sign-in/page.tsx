import type { Metadata } from "next";
import { ownPath } from "@/core/plain/own-path";
import { anyPeople, demoPeople } from "@/server/access/people";
import { app } from "@/server/app/context";
import { OwnAccount } from "@/ui/access/own-account";
import { SignIn } from "@/ui/access/sign-in";
import { LensMark } from "@/ui/frame/top-bar";

export const metadata: Metadata = { title: "Sign in" };

/** Why somebody who came back from the provider is not signed in. */
const WHY: Record<string, string> = {
  unknown:
    "You are known there, and nobody here has your mail address, or it is not confirmed there. Ask who keeps this installation.",
  failed: "It did not end well there. Try it once more.",
  away: "It cannot be reached just now. Try again in a moment.",
};

export default async function Page({ searchParams }: { searchParams: Promise<{ next?: string; why?: string }> }) {
  const { next, why } = await searchParams;
  const installation = await app();
  const { settings } = installation;
  const demo = (await demoPeople(installation)).map(({ name, fullName, about }) => ({
    name,
    fullName: fullName,
    about,
  }));
  const empty = !(await anyPeople(installation));
  return (
    <main className="mx-auto max-w-md px-6 py-14">
      <h1 className="mb-8 flex items-center gap-3 font-serif text-3xl font-semibold">
        <LensMark /> Earnest Lens
      </h1>
      {empty ? (
        <FirstStart />
      ) : (
        <SignIn
          next={ownPath(next)}
          demo={demo}
          provider={settings.provider?.name ?? null}
          passwords={settings.passwords}
          why={WHY[why ?? ""] ?? ""}
        />
      )}
    </main>
  );
}

/** An installation that nobody can sign in to is begun here, by who can read what the server prints. */
function FirstStart() {
  return (
    <>
      <p className="mb-6 text-soft">
        This installation is empty. Make its first administrator; then take a repository in, and invite the others.
      </p>
      <OwnAccount way="first-start" next="/keeping?tab=repositories" />
    </>
  );
}
