import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { hooksOf } from "@/server/hooks/hooks";
import { TopBar } from "@/ui/frame/top-bar";
import { HooksPage } from "@/ui/hooks/hooks-page";
import { visitor } from "../../visitor";

export const metadata: Metadata = { title: "Other systems" };

/** The addresses that are told what happens in all repositories, for those who keep the installation. */
export default async function Page() {
  const { app, person, me } = await visitor("/keeping/hooks");
  const hooks = await hooksOf(app, person, null);
  if (!hooks.ok) notFound();
  return (
    <>
      <TopBar
        me={me}
        trail={[{ label: "Desk", href: "/" }, { label: "Keeping", href: "/keeping" }, { label: "other systems" }]}
      />
      <HooksPage repository={null} initial={hooks.value} within={app.settings.hooksWithin} />
    </>
  );
}
