import { atLeast, type Role } from "../review/roles";

/** Someone who can see the repository. */
export interface GatePerson {
  id: string;
  /** The name they sign in with, by which rules name them. */
  name: string;
  role: Role;
  machine: boolean;
  /** The id of the person to whom a machine account belongs; null for people, and for machines of those who keep the installation. */
  owner: string | null;
}

/**
 * What a machine account did was done by whose it is: gives the ids of an account and of the person behind it.
 *
 * @example whoIsBehind(people)("a machine of ada") // ["a machine of ada", "ada"]
 */
export function whoIsBehind(people: readonly GatePerson[]): (id: string) => string[] {
  const owners = new Map(people.map(({ id, owner }) => [id, owner]));
  return (id) => {
    const owner = owners.get(id);
    return owner ? [id, owner] : [id];
  };
}

export interface GateCommit {
  id: string;
  subject: string;
  merge: boolean;
  /** Has a `Signed-off-by:` trailer. */
  signedOff: boolean;
}

/** What the gate has to know beyond the change set and the rule. All of it concerns the newest revision. */
export interface GateFacts {
  /** Milliseconds since 1970. */
  now: number;
  people: readonly GatePerson[];
  /** Every path that is touched, also those that a file was renamed from, and those that it has in the target by now. */
  paths: readonly string[];
  /** Ids of those who wrote or committed one of the commits, by their addresses. */
  makers: readonly string[];
  /** The commit at which the source branch stands; null when there is no such branch, missing where that was not asked. */
  tip?: string | null;
  commits: readonly GateCommit[];
  /** Files in which it cannot be brought together with the target as that is now. */
  conflicts: readonly string[];
  /** How many commits of the target are not in the source. */
  behind: number;
  /** Lines to read; null where no rule asks. */
  toRead: number | null;
  /** Work items that are linked, as they are called. */
  workItems: readonly string[];
}

/** What is known of a change set of which nothing else is. */
export const NO_FACTS: GateFacts = {
  now: 0,
  people: [],
  paths: [],
  makers: [],
  commits: [],
  conflicts: [],
  behind: 0,
  toRead: null,
  workItems: [],
};

/** Ids of those whose role lets them give a verdict that can count. */
export function reviewersAmong(people: readonly GatePerson[]): string[] {
  return people.filter(({ role, machine }) => !machine && atLeast(role, "contributor")).map(({ id }) => id);
}
