"use client";
import { Tabs } from "radix-ui";
import type { AccountView, AuditEntry } from "@/core/access-view";
import { Accounts } from "./accounts";
import { AuditLog } from "./audit-log";

const TAB =
  "-mb-px border-b-2 border-transparent px-1 pb-1 text-soft data-[state=active]:border-brass data-[state=active]:text-ink data-[state=active]:font-semibold";

/** The accounts of an installation, and who did what to it. */
export function Keeping({
  me,
  initial,
  repositories,
  entries,
}: {
  me: string;
  initial: AccountView[];
  repositories: string[];
  entries: AuditEntry[];
}) {
  return (
    <main className="mx-auto max-w-5xl px-6 pb-20">
      <h1 className="mt-8 font-serif text-3xl font-semibold">Keeping</h1>
      <p className="text-soft">Who may come in, and who did what. Only administrators see this.</p>
      <Tabs.Root defaultValue="accounts" className="mt-5">
        <Tabs.List aria-label="Keeping" className="flex gap-6 border-b border-rule">
          <Tabs.Trigger value="accounts" className={TAB}>
            Accounts
          </Tabs.Trigger>
          <Tabs.Trigger value="audit" className={TAB}>
            Who did what
          </Tabs.Trigger>
        </Tabs.List>
        <Tabs.Content value="accounts" className="mt-4 outline-none">
          <Accounts me={me} initial={initial} repositories={repositories} />
        </Tabs.Content>
        <Tabs.Content value="audit" className="mt-4 outline-none">
          <AuditLog initial={entries} />
        </Tabs.Content>
      </Tabs.Root>
    </main>
  );
}
