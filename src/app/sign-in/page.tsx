import type { Metadata } from "next";
import { anyPeople, demoPeople } from "@/server/access/people";
import { app } from "@/server/app/context";
import { OwnAccount } from "@/ui/access/own-account";
import { SignIn } from "@/ui/access/sign-in";
import { LensMark } from "@/ui/top-bar";

export const metadata: Metadata = { title: "Sign in" };

export default async function Page({ searchParams }: { searchParams: Promise<{ next?: string }> }) {
  const { next } = await searchParams;
  const installation = await app();
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
      {empty ? <FirstStart /> : <SignIn next={ownPath(next)} demo={demo} />}
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

/** Only a path of our own may be gone to after signing in. */
function ownPath(next: string | undefined): string {
  return next && /^\/(?![/\\])/.test(next) && !/[\r\n\t]/.test(next) ? next : "/";
}
