import type { Metadata } from "next";
import { tokensOf } from "@/server/access/tokens";
import { Tokens } from "@/ui/tokens";
import { TopBar } from "@/ui/top-bar";
import { ownAddress, visitor } from "../visitor";

export const metadata: Metadata = { title: "Tokens" };

/** Where a person makes the tokens that git and programs sign in with. */
export default async function Page() {
  const { lens, person } = await visitor("/tokens");
  return (
    <>
      <TopBar me={{ fullName: person.full_name }} trail={[{ label: "Desk", href: "/" }, { label: "Tokens" }]} />
      <main className="mx-auto max-w-3xl px-6 pb-16">
        <h1 className="mt-8 font-serif text-3xl font-semibold">Tokens for git and programs</h1>
        <p className="text-soft">
          git asks for a name and a password: give it <strong>{person.name}</strong> and a token. A token can do what
          you can do; take it away when it is no longer used.
        </p>
        <Tokens initial={await tokensOf(lens, person)} name={person.name} address={await ownAddress(lens)} />
      </main>
    </>
  );
}
