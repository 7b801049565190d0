import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { findPerson } from "../../access/people";
import type { Person } from "../../access/person";
import { enter, type Repository } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import type { RefMove } from "../../refs/moves";

/** A push, as its hooks tell of it. */
export interface Push {
  person: string;
  /** From where: a network address. */
  from: string;
  repository: string;
  updates: RefMove[];
  options: string[];
}

export interface Pusher {
  person: Person;
  repository: Repository;
  folder: string;
}

/** Whose push it is, and where; refuses those who may not push (any more). */
export async function pusherIn(app: AppContext, push: Push): Promise<Outcome<Pusher>> {
  const person = await findPerson(app.db, push.person);
  if (!person) return refuse("forbidden", "Nobody of that name can push here.");
  const entered = await enter(app, person, push.repository, "contributor");
  return entered.ok ? done({ person, ...entered.value }) : entered;
}

/** The moves in lines of "old new ref", as git tells its hooks of them. */
export function movesIn(lines: string): RefMove[] {
  return [...lines.matchAll(/^(\S+) (\S+) (.+)$/gm)].map(([, old, next, ref]) => ({ old, next, ref }));
}

/** Only zeros: there is no commit on that side. */
export function isNone(commit: string): boolean {
  return /^0+$/.test(commit);
}

/** The name of a branch from its full ref; null for another kind of ref. */
export function branchOf(ref: string): string | null {
  return /^refs\/heads\/(.+)$/s.exec(ref)?.[1] ?? null;
}

/** The change set whose ledger a ref is; null for another kind of ref. */
export function ledgerOf(ref: string): string | null {
  return /^refs\/lens\/ledger\/([0-9A-HJKMNP-TV-Z]{26})$/.exec(ref)?.[1] ?? null;
}
