import type { Metadata } from "next";
import { anyPeople, demoPeople } from "@/server/access/people";
import { app } from "@/server/app/context";
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
      {empty ? <FirstSteps /> : <SignIn next={ownPath(next)} demo={demo} />}
    </main>
  );
}

/** An installation that nobody can sign in to says what to do about it. */
function FirstSteps() {
  return (
    <div className="grid gap-3">
      <p>
        This installation is empty: nobody can sign in yet. On the machine it runs on, make the first administrator and
        take a repository in:
      </p>
      <pre className="whitespace-pre-wrap rounded-md bg-well p-4 font-mono text-[12.5px]">
        {"npm run lens -- person add NAME --full-name “…” --administrator\nnpm run lens -- repo add REPOSITORY PATH"}
      </pre>
      <p className="text-soft">Use the same LENS_DATA as the server. Then load this page again.</p>
    </div>
  );
}

/** Only a path of our own may be gone to after signing in. */
function ownPath(next: string | undefined): string {
  return next && /^\/(?![/\\])/.test(next) && !/[\r\n\t]/.test(next) ? next : "/";
}
