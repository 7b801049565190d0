import type { Metadata } from "next";
import { notFound } from "next/navigation";
import type { ChangeSet } from "@/core/review/state";
import type { Me } from "@/core/views/api";
import { numberOf } from "@/server/app/http/http";
import { findChange } from "@/server/changes/changes";
import { changeParts } from "@/server/changes/views";
import { filesBetween } from "@/server/reading/files-between";
import { readingFor } from "@/server/reading/reading";
import { comesBack } from "@/server/reading/since";
import { statesOf } from "@/server/reading/states";
import { addressOf } from "@/ui/asking/ask";
import { TopBar } from "@/ui/frame/top-bar";
import { readingAsked } from "@/ui/workspace/state/reading-asked";
import { Workspace } from "@/ui/workspace/workspace";
import { visitor } from "../../../../visitor";

/** The list of more files than this does not come with the page: that is there at once, and asks for it. */
const MOST_AT_ONCE = 400;

interface Props {
  params: Promise<{ repo: string; number: string }>;
  searchParams: Promise<Record<string, string | undefined>>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { repo, number } = await params;
  return { title: `${repo} ${number}` };
}

/** A change set that is there and cannot be shown: why, and that all others can. */
function Damaged({ repo, me, reason }: { repo: string; me: Me; reason: string }) {
  return (
    <>
      <TopBar
        me={me}
        trail={[
          { label: "Desk", href: "/" },
          { label: repo, href: `/r/${repo}` },
        ]}
      />
      <main className="mx-auto max-w-lg px-6 py-24">
        <h1 className="font-serif text-3xl font-semibold">This change set cannot be shown</h1>
        <p className="mt-3">{reason}</p>
        <p className="mt-3 text-soft">All others are as they were.</p>
      </main>
    </>
  );
}

export default async function Page({ params, searchParams }: Props) {
  const { repo, number } = await params;
  const search = await searchParams;
  const asked = new URLSearchParams(
    Object.entries(search).filter((entry): entry is [string, string] => typeof entry[1] === "string"),
  );
  const { app, person, me } = await visitor(`/r/${repo}/c/${number}${asked.size > 0 ? `?${asked}` : ""}`);
  const found = await findChange(app, person, repo, numberOf(number));
  if (!found.ok) {
    if (found.refusal.code === "missing") notFound();
    return <Damaged repo={repo} me={me} reason={found.refusal.reason} />;
  }
  const { change, repository, folder } = found.value;
  const newest = `r${change.revisions.length}`;
  // Who comes back begins with what is new to them, unless the address says otherwise.
  const first = asked.has("file") || asked.has("thread") || !(await comesBack(app, person, change)) ? "base" : "read";
  const named = { from: asked.get("from") ?? (asked.has("to") ? "base" : first), to: asked.get("to") ?? newest };
  // An address that names nothing is told so, and shows all of the newest revision.
  const wanted = await statesOf(app, person, change, folder, named.from, named.to);
  const points = wanted.ok ? wanted : await statesOf(app, person, change, folder, "base", newest);
  if (!points.ok) notFound();
  const shown = wanted.ok ? named : { from: "base", to: newest };
  const wrong = wanted.ok ? wrongThread(change, asked.get("thread")) : wanted.refusal.reason;
  const many = (await filesBetween(app, folder, points.value)).length > MOST_AT_ONCE;
  const [answer, reading] = await Promise.all([
    changeParts(app, person, repository, change),
    many ? null : readingFor(app, person, change, folder, shown, points.value),
  ]);
  const address = {
    file: asked.get("file"),
    line: asked.get("line"),
    thread: asked.get("thread"),
    name: asked.get("name"),
  };
  return (
    <>
      {/* What the page will ask for is on its way while its scripts are read. */}
      {many && (
        <link
          rel="preload"
          as="fetch"
          crossOrigin="anonymous"
          href={addressOf(...readingAsked({ repo, number }, shown))}
        />
      )}
      <Workspace initial={answer} named={shown} reading={reading} address={address} wrong={wrong} me={me} />
    </>
  );
}

/** What is wrong with the thread that an address names; null when nothing is. */
function wrongThread({ threads }: ChangeSet, id: string | null): string | null {
  if (id === null || threads.some((thread) => thread.id === id)) return null;
  return "There is no such thread in this change set.";
}
