"use client";
import { Tabs } from "radix-ui";
import { useState } from "react";
import type { AccountView, AuditEntry } from "@/core/views/access-view";
import type { GroupView, InviteView, KeptRepository, TakingView } from "@/core/views/setting-up-view";
import { Accounts } from "./accounts";
import { AuditLog } from "./audit-log";
import { Groups } from "./groups";
import { House, type HouseView } from "./house";
import { Invitations } from "./invitations";
import { Repositories } from "./repositories";

const TAB =
  "-mb-px border-b-2 border-transparent px-1 pb-1 text-soft data-[state=active]:border-brass data-[state=active]:text-ink data-[state=active]:font-semibold";

const TABS = { accounts: "Accounts", repositories: "Repositories", house: "Installation", audit: "Who did what" };

/** What who keeps an installation looks after: its people, its repositories, how it is, and who did what to it. */
export function Keeping({
  me,
  tab,
  initial,
  repositories,
  takings,
  invites,
  groups,
  house,
  entries,
}: {
  me: string;
  tab: string;
  initial: AccountView[];
  repositories: KeptRepository[];
  takings: TakingView[];
  invites: InviteView[];
  groups: GroupView[];
  house: HouseView;
  entries: AuditEntry[];
}) {
  const [shown, setShown] = useState(Object.hasOwn(TABS, tab) ? tab : "accounts");
  const [kept, setKept] = useState(repositories);
  const names = kept.filter(({ deletedAt }) => deletedAt === null).map(({ name }) => name);
  const show = (next: string) => {
    setShown(next);
    window.history.replaceState(null, "", `?tab=${next}`);
  };
  return (
    <main className="mx-auto max-w-5xl px-6 pb-20">
      <h1 className="mt-8 font-serif text-3xl font-semibold">Keeping</h1>
      <p className="text-soft">Who may come in, what is kept here, and who did what. Only administrators see this.</p>
      <Tabs.Root value={shown} onValueChange={show} className="mt-5">
        <Tabs.List aria-label="Keeping" className="flex flex-wrap gap-x-6 border-b border-rule">
          {Object.entries(TABS).map(([value, label]) => (
            <Tabs.Trigger key={value} value={value} className={TAB}>
              {label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="accounts" className="mt-4 outline-none">
          <Accounts me={me} initial={initial} repositories={names} />
          <Groups initial={groups} people={initial.map(({ name }) => name)} repositories={names} />
          <Invitations initial={invites} repositories={names} />
        </Tabs.Content>
        <Tabs.Content value="repositories" className="mt-4 outline-none">
          <Repositories kept={kept} onKept={setKept} initialTakings={takings} />
        </Tabs.Content>
        <Tabs.Content value="house" className="mt-4 outline-none">
          <House {...house} />
        </Tabs.Content>
        <Tabs.Content value="audit" className="mt-4 outline-none">
          <AuditLog initial={entries} />
        </Tabs.Content>
      </Tabs.Root>
    </main>
  );
}
