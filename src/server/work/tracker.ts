import type { Outcome } from "@/core/plain/outcome";
import type { WorkItemView } from "@/core/views/keeping-view";
import type { Person } from "../access/person";

/** What is told of a change set that was merged. */
export interface MergedChange {
  id: string;
  number: number;
  title: string;
  commit: string;
}

/** Where reasons for changes are kept: the small tracker that ships with the product, or another that is asked by HTTP (docs/tracker.md). */
export interface Tracker {
  /** The machine that keeps them; null where they are kept here. */
  readonly elsewhere: string | null;
  /** Items by what they are called, without those that are not there. */
  named: (items: readonly string[]) => Promise<Outcome<WorkItemView[]>>;
  /** Open items first, the newest first; those whose number, title or text fits the words. */
  find: (words: string) => Promise<Outcome<WorkItemView[]>>;
  /** Writes a new one, and gives what it is called. `assignee` counts where they are kept here. */
  add: (person: Person, item: { title: string; body: string; assignee?: string | null }) => Promise<Outcome<string>>;
  /** Ends one by hand, or opens it again. */
  setState: (person: Person, item: string, state: "open" | "done") => Promise<Outcome<null>>;
  /** Tells an item that a change set which names it was merged; one that is closed by it ends. May be told twice. Throws what is worth another try. */
  merged: (item: string, closes: boolean, change: MergedChange) => Promise<void>;
}
