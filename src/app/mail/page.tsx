import { join } from "node:path";
import type { Metadata } from "next";
import Link from "next/link";
import { notFound } from "next/navigation";
import { arrivedFor, arrivedMessage } from "@/server/news/mail-standin";
import { TopBar } from "@/ui/frame/top-bar";
import { When } from "@/ui/parts/when";
import { visitor } from "../visitor";

export const metadata: Metadata = { title: "Mail" };

/** What the stand-in for a mail server took. It exists where that runs: in the demo. */
export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | undefined>> }) {
  const { id, whose } = await searchParams;
  const { app, person, me } = await visitor("/mail");
  if (!app.settings.mailStandIn) notFound();
  const folder = join(app.settings.data, "mail");
  // In the demo everyone is made up, and one looks over everyone's shoulder.
  const all = whose === "all" && (person.demo || person.administrator);
  const email = all ? null : person.email;
  const [list, message] = await Promise.all([
    arrivedFor(folder, email),
    id ? arrivedMessage(folder, id, email) : Promise.resolve(null),
  ]);
  const address = (part: Record<string, string>) =>
    `/mail?${new URLSearchParams({ ...(all ? { whose: "all" } : {}), ...part })}`;
  return (
    <div className="flex h-dvh flex-col">
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: "Mail" }]} />
      <div className="grid min-h-0 flex-1 grid-cols-[380px_minmax(0,1fr)] max-md:grid-cols-1">
        <nav aria-label="Messages" className="overflow-y-auto border-r border-rule bg-page p-3">
          <h1 className="px-2 font-serif text-xl font-semibold">{all ? "Everyone’s mail" : "Mail for you"}</h1>
          <p className="px-2 pb-2 text-[13px] text-soft">
            A stand-in takes the mail of this installation and sends none of it on.{" "}
            {(person.demo || person.administrator) && (
              <Link
                prefetch={false}
                className="text-slate underline underline-offset-2 hover:decoration-2"
                href={all ? "/mail" : "/mail?whose=all"}
              >
                {all ? "Only mine" : "Everyone’s"}
              </Link>
            )}
          </p>
          {list.length === 0 && <p className="px-2 text-soft">Nothing has arrived.</p>}
          <ul>
            {list.map((arrived) => (
              <li key={arrived.id}>
                <Link
                  prefetch={false}
                  href={address({ id: arrived.id })}
                  aria-current={arrived.id === id ? "true" : undefined}
                  className={`block rounded px-2 py-1.5 ${arrived.id === id ? "bg-brass-wash" : "hover:bg-well"}`}
                >
                  <span className="flex justify-between gap-2 text-[13px] text-soft">
                    <span className="truncate">
                      {arrived.from}
                      {all && ` to ${arrived.to}`}
                    </span>
                    <When at={arrived.at} />
                  </span>
                  <span className="block">{arrived.subject}</span>
                </Link>
              </li>
            ))}
          </ul>
        </nav>
        <main className="overflow-y-auto bg-paper px-8 py-6">
          {message?.ok ? (
            <>
              <pre className="whitespace-pre-wrap font-mono text-[13.5px] leading-6">{message.value.text}</pre>
              <details className="mt-6 text-soft">
                <summary className="cursor-pointer">The head of the message, and its HTML</summary>
                <pre className="mt-2 overflow-x-auto whitespace-pre-wrap rounded bg-well p-3 font-mono text-[12px]">
                  {message.value.head}
                </pre>
                <pre className="mt-2 overflow-x-auto whitespace-pre-wrap rounded bg-well p-3 font-mono text-[12px]">
                  {message.value.html}
                </pre>
              </details>
            </>
          ) : (
            <p className="text-soft">{message ? message.refusal.reason : "Choose a message."}</p>
          )}
        </main>
      </div>
    </div>
  );
}
