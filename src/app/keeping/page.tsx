import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { auditEntries } from "@/server/access/audit";
import { invites } from "@/server/access/invites";
import type { AppContext } from "@/server/app/context";
import { healthOf } from "@/server/app/health";
import { versionOf } from "@/server/app/version";
import { accounts } from "@/server/keeping/accounts";
import { groupsOf } from "@/server/keeping/groups";
import { keptRepositories } from "@/server/keeping/repositories";
import { takingsOf } from "@/server/keeping/takings";
import { TopBar } from "@/ui/frame/top-bar";
import type { HouseView } from "@/ui/keeping/house";
import { Keeping } from "@/ui/keeping/keeping";
import { visitor } from "../visitor";

export const metadata: Metadata = { title: "Keeping" };

/** For those who keep the installation: people, repositories, how it is, and who did what. */
export default async function Page({ searchParams }: { searchParams: Promise<{ tab?: string }> }) {
  const { tab = "" } = await searchParams;
  const { app, person, me } = await visitor("/keeping");
  if (!person.administrator) notFound();
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: "Keeping" }]} />
      <Keeping
        me={person.name}
        tab={tab}
        initial={await accounts(app)}
        repositories={await keptRepositories(app)}
        takings={await takingsOf(app)}
        invites={await invites(app)}
        groups={await groupsOf(app)}
        house={await houseOf(app)}
        entries={await auditEntries(app, { most: 200 })}
      />
    </>
  );
}

async function houseOf(app: AppContext): Promise<HouseView> {
  const { mail, mailStandIn, mailFrom, data, root } = app.settings;
  return {
    ...(await healthOf(app)),
    // Its host only: the address may hold a password.
    mail: mail && !mailStandIn ? new URL(mail).host : null,
    standIn: mailStandIn,
    from: mailFrom,
    data,
    version: versionOf(root),
  };
}
