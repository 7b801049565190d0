import Link from "next/link";
import { notFound } from "next/navigation";
import { counted } from "@/core/plain/words";
import { atLeast } from "@/core/review/roles";
import { enter, isBegun } from "@/server/access/repositories";
import { desk } from "@/server/changes/desk";
import { patchAddress } from "@/server/git-access/patch-address";
import { remotesOf } from "@/server/ledger/sync-alone";
import { ruleFor } from "@/server/rules/rules";
import { TopBar } from "@/ui/frame/top-bar";
import { ChangeList } from "@/ui/lists/change-list";
import { LiveDesk } from "@/ui/lists/live-desk";
import { Sync } from "@/ui/repositories/sync";
import { ownAddress, visitor } from "../../visitor";

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ repo: string }>;
  searchParams: Promise<{ all?: string }>;
}) {
  const { repo } = await params;
  const { all } = await searchParams;
  const { app, person, me } = await visitor(`/r/${repo}`);
  const entered = await enter(app, person, repo);
  if (!entered.ok) notFound();
  const { repository, role } = entered.value;
  const begun = await isBegun(app, repository);
  const view = await desk(app, person, { only: repository, whole: all !== undefined });
  const patches = atLeast(role, "contributor") ? await patchAddress(app, person, repository) : null;
  const clone = app.settings.alone ? await remotesOf(app, person, repo) : null;
  const remotes = clone?.ok ? clone.value : [];
  const rule = await ruleFor(app.db, repository.id, repository.defaultBranch);
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: repository.name }]} />
      <LiveDesk counting={view.counting} />
      <main className="mx-auto max-w-4xl px-6 pb-16">
        <div className="mt-8 flex items-start justify-between gap-6">
          <div>
            <h1 className="font-serif text-3xl font-semibold">{repository.name}</h1>
            {repository.description && <p className="text-[17px]">{repository.description}</p>}
            {repository.archived && (
              <p className="my-2 rounded-md border border-l-4 border-rule border-l-brass px-3 py-1.5">
                Archived: it is read, and nothing in it changes.
              </p>
            )}
            <p className="text-soft">
              You are {role} here. <span className="font-mono text-[12.5px]">{repository.defaultBranch}</span> asks for{" "}
              {counted(rule.approvals.count, "approval")} before a change set merges.{" "}
              <Link
                prefetch={false}
                className="text-slate underline underline-offset-2 hover:decoration-2"
                href={`/r/${repository.name}/rules`}
              >
                The rules
              </Link>{" "}
              ·{" "}
              <Link
                prefetch={false}
                className="text-slate underline underline-offset-2 hover:decoration-2"
                href={`/r/${repository.name}/work`}
              >
                Work items
              </Link>{" "}
              ·{" "}
              <Link
                prefetch={false}
                className="text-slate underline underline-offset-2 hover:decoration-2"
                href={`/r/${repository.name}/labels`}
              >
                Labels
              </Link>
              {atLeast(role, "keeper") && (
                <>
                  {" "}
                  ·{" "}
                  <Link
                    prefetch={false}
                    className="text-slate underline underline-offset-2 hover:decoration-2"
                    href={`/r/${repository.name}/hooks`}
                  >
                    Other systems
                  </Link>{" "}
                  ·{" "}
                  <Link
                    prefetch={false}
                    className="text-slate underline underline-offset-2 hover:decoration-2"
                    href={`/r/${repository.name}/times`}
                  >
                    How long things take
                  </Link>
                </>
              )}
            </p>
            {app.settings.alone ? (
              <Sync repository={repo} remotes={remotes} />
            ) : (
              <p className="mt-1 text-soft">
                {begun ? "Clone it: " : "It is empty so far. Push to it: "}
                <code className="select-all break-all font-mono text-[12.5px] text-ink">
                  git {begun ? "clone" : "push"} {await ownAddress(app)}/git/{repository.name}.git
                  {begun ? "" : ` HEAD:${repository.defaultBranch}`}
                </code>{" "}
                with your name and a{" "}
                <Link
                  prefetch={false}
                  className="text-slate underline underline-offset-2 hover:decoration-2"
                  href="/tokens"
                >
                  token
                </Link>
                .
              </p>
            )}
            {begun && patches && !app.settings.alone && (
              <p className="mt-1 text-soft">
                Or mail patches, to an address of your own:{" "}
                <code className="select-all break-all font-mono text-[12.5px] text-ink">
                  git send-email --to={patches}
                </code>
              </p>
            )}
          </div>
          {begun && atLeast(role, "contributor") && (
            <Link prefetch={false} href={`/r/${repository.name}/open`} className="button-main flex-none">
              Open a change set
            </Link>
          )}
        </div>
        <ChangeList
          title="Open"
          all={all ? null : `/r/${repository.name}?all=open`}
          about="Offered and not settled."
          lines={[...view.forMe, ...view.forThem, ...view.couldBe, ...view.elsewhere].sort(
            (a, b) => b.changedAt - a.changedAt,
          )}
          empty="No change set is open."
        />
        {view.more > 0 && (
          <p className="mt-2 text-soft">
            <Link
              prefetch={false}
              href={`/r/${repository.name}?all=open`}
              className="text-slate underline underline-offset-2 hover:decoration-2"
            >
              {counted(view.more, "older one")} {view.more === 1 ? "is" : "are"} open besides
            </Link>
          </p>
        )}
        <ChangeList
          title="Settled lately"
          all={null}
          about="Merged or withdrawn."
          lines={view.settled}
          empty="Nothing was settled yet."
        />
      </main>
    </>
  );
}
