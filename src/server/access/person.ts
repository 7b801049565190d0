import type { PeopleTable } from "@/store/tables/access";

/** Someone with an account here, be it a person or a machine, as the application knows them. */
export interface Person {
  id: string;
  /** What they sign in with, and by which rules name them. */
  name: string;
  fullName: string;
  email: string;
  /** They keep the installation. */
  administrator: boolean;
  /** A program's account. */
  machine: boolean;
  /** The id of the person to whom a machine account belongs; null for people, and for machines of those who keep the installation. */
  owner: string | null;
  /** May be signed in as by one click on the demo's sign-in page. */
  demo: boolean;
  /** What they are in the demo, in a word or two. */
  about: string;
  createdAt: number;
  /** Since when they cannot sign in nor do anything, in milliseconds since 1970; null while they can. */
  disabledAt: number | null;
}

/** What is read of a row of people to know them. Their password is asked for by what checks it, and by nothing else. */
export const PERSON = [
  "people.id",
  "people.name",
  "people.full_name",
  "people.email",
  "people.owner",
  "people.about",
  "people.administrator",
  "people.machine",
  "people.demo",
  "people.created_at",
  "people.disabled_at",
] as const;

/** A row of people as the rest of the application knows it: without the password. */
export function personOf(row: Omit<PeopleTable, "password">): Person {
  const { id, name, email, owner, about } = row;
  return {
    id,
    name,
    email,
    owner,
    about,
    fullName: row.full_name,
    createdAt: row.created_at,
    disabledAt: row.disabled_at,
    administrator: row.administrator === 1,
    machine: row.machine === 1,
    demo: row.demo === 1,
  };
}
