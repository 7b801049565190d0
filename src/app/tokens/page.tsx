import type { Metadata } from "next";
import { cookies } from "next/headers";
import { COOKIE, sessionsOf } from "@/server/access/sessions";
import { secondStepOf } from "@/server/access/signing-in/second-step";
import { tokensOf } from "@/server/access/tokens";
import { cloneKeysOf, ownKeyId } from "@/server/ledger/clone-keys";
import { CloneKeys } from "@/ui/access/clone-keys";
import { Password } from "@/ui/access/password";
import { SecondStep } from "@/ui/access/second-step";
import { Sessions } from "@/ui/access/sessions";
import { Tokens } from "@/ui/access/tokens";
import { TopBar } from "@/ui/frame/top-bar";
import { ownAddress, visitor } from "../visitor";

export const metadata: Metadata = { title: "Tokens and sessions" };

/** Where a person makes the tokens that git and programs sign in with, and sees where they are signed in. */
export default async function Page() {
  const { app, person, me } = await visitor("/tokens");
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: "Tokens and sessions" }]} />
      <main className="mx-auto max-w-3xl px-6 pb-16">
        <h1 className="mt-8 font-serif text-3xl font-semibold">Tokens for git and programs</h1>
        <p className="text-soft">
          git asks for a name and a password: give it <strong>{person.name}</strong> and a token. A token can do no more
          than you can, and of that what you let it. It cannot make others. A new password ends them all. You can have
          50 at a time.{" "}
          <a className="text-slate underline underline-offset-2 hover:decoration-2" href="/api">
            What programs can ask
          </a>
        </p>
        <Tokens initial={await tokensOf(app, person)} name={person.name} address={await ownAddress(app)} />
        <CloneKeys initial={await cloneKeysOf(app, person)} name={person.name} serverKey={await ownKeyId(app)} />
        <Sessions initial={await sessionsOf(app, person, (await cookies()).get(COOKIE)?.value)} />
        {app.settings.passwords && (
          <>
            <SecondStep initial={await secondStepOf(app, person)} />
            <Password />
          </>
        )}
      </main>
    </>
  );
}
