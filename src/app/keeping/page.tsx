import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { auditEntries } from "@/server/access/audit";
import { accounts } from "@/server/keeping/accounts";
import { Keeping } from "@/ui/keeping/keeping";
import { TopBar } from "@/ui/top-bar";
import { visitor } from "../visitor";

export const metadata: Metadata = { title: "Keeping" };

/** For those who keep the installation: the accounts, and who did what. */
export default async function Page() {
  const { app, person, me } = await visitor("/keeping");
  if (!person.administrator) notFound();
  const repositories = await app.db.selectFrom("repositories").select("name").orderBy("name").execute();
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: "Keeping" }]} />
      <Keeping
        me={person.name}
        initial={await accounts(app)}
        repositories={repositories.map(({ name }) => name)}
        entries={await auditEntries(app, { most: 200 })}
      />
    </>
  );
}
