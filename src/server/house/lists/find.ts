import { type Expression, type ExpressionBuilder, type SqlBool, sql } from "kysely";
import { type Query, readQuery, type Sort, type Term } from "@/core/house/lists/query";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { ListView } from "@/core/views/desk-view";
import { anyOf } from "@/store/project";
import type { Schema } from "@/store/schema";
import { findPerson, shareRepository } from "../../access/people";
import type { Person } from "../../access/person";
import { repositoriesOf } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import { linesOf } from "../../changes/lines";
import { matching } from "./words";

/** So many are on a page of a list. */
export const PAGE = 50;

/** Where each order begins, and what it goes by. */
const ORDERS: Record<Sort, { column: Expression<number>; way: "asc" | "desc" }> = {
  changed: { column: sql.ref("change_sets.changed_at"), way: "desc" },
  still: { column: sql.ref("change_sets.changed_at"), way: "asc" },
  age: { column: sql.ref("change_sets.opened_at"), way: "asc" },
  // What is not compared yet comes last.
  load: {
    column: sql<number>`coalesce((select load from change_loads where change_set = change_sets.id and change_loads.head = change_sets.head), 999999999)`,
    way: "asc",
  },
};

/** Where somebody looks: the repositories that they may see, with their roles in them. */
type Seen = Awaited<ReturnType<typeof repositoriesOf>>;

/** A page of the change sets that a query asks for, of those that somebody may see, from behind `after` on. */
export async function findChanges(
  app: AppContext,
  person: Person,
  text: string,
  after: string | null = null,
): Promise<Outcome<ListView>> {
  const seen = await repositoriesOf(app, person);
  const asked = await conditionsOf(app, person, seen, text);
  if (!asked.ok) return asked;
  const { query, where } = asked.value;
  const { column, way } = ORDERS[query.sort];
  const from = after === null ? null : readCursor(after);
  if (after !== null && !from) return refuse("invalid", "This page of the list is not known.");
  const base = app.db.selectFrom("change_sets").where((eb) => eb.and(where.map((one) => one(eb))));
  const { count } = await base.select(({ fn }) => fn.countAll<number>().as("count")).executeTakeFirstOrThrow();
  const rows = await base
    .select(["id", sql<number>`${column}`.as("at")])
    .$if(from !== null, (select) =>
      select.where(sql<boolean>`(${column}, id) ${sql.raw(way === "asc" ? ">" : "<")} (${from!.at}, ${from!.id})`),
    )
    .orderBy(column, way)
    .orderBy("id", way)
    .limit(PAGE + 1)
    .execute();
  const shown = rows.slice(0, PAGE);
  const names = new Map(seen.map(({ id, name }) => [id, name]));
  const lines = await linesOf(
    app,
    person,
    shown.map(({ id }) => id),
    names,
  );
  const last = shown.at(-1);
  const next = rows.length > PAGE && last ? `${last.at}.${last.id}` : null;
  const counting = lines.some((one) => one.counting);
  return done({
    lines: lines.map(({ line, place }) => ({ ...line, waits: place?.waits ?? "none" })),
    count,
    next,
    counting,
  });
}

/** How many change sets a query asks for, of those that somebody may see; null for one that cannot be read. */
export async function countChanges(app: AppContext, person: Person, text: string, seen?: Seen): Promise<number | null> {
  const asked = await conditionsOf(app, person, seen ?? (await repositoriesOf(app, person)), text);
  if (!asked.ok) return null;
  const { count } = await app.db
    .selectFrom("change_sets")
    .where((eb) => eb.and(asked.value.where.map((one) => one(eb))))
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .executeTakeFirstOrThrow();
  return count;
}

function readCursor(text: string): { at: number; id: string } | null {
  const [, at, id] = /^(\d{1,15})\.([0-9A-Z]{26})$/.exec(text) ?? [];
  return id ? { at: Number(at), id } : null;
}

type Where = (
  eb: ExpressionBuilder<Schema, "change_sets">,
) => ReturnType<ExpressionBuilder<Schema, "change_sets">["and"]>;

async function conditionsOf(
  app: AppContext,
  person: Person,
  seen: Seen,
  text: string,
): Promise<Outcome<{ query: Query; where: Where[] }>> {
  const query = readQuery(text);
  if (!query.ok) return query;
  const ids = seen.map(({ id }) => id);
  const where: Where[] = [(eb) => eb("repository", "in", ids.length > 0 ? ids : [""])];
  // What has to be in the text is asked of the index at once.
  const words = query.value.terms.flatMap((term) => (term.key === "text" && !term.not ? [term.value] : []));
  if (words.length > 0) where.push((eb) => eb("words", "in", withWords(eb, words)));
  for (const term of query.value.terms) {
    if (term.key === "text" && !term.not) continue;
    const made = await conditionOf(app, person, seen, term);
    if (!made.ok) return made;
    where.push(term.not ? (eb) => eb.not(made.value(eb)) : made.value);
  }
  return done({ query: query.value, where });
}

const GOING = ["open", "draft"] as const;
const SETTLED = ["merged", "withdrawn"] as const;

async function conditionOf(app: AppContext, person: Person, seen: Seen, term: Term): Promise<Outcome<Where>> {
  switch (term.key) {
    case "text":
      return done((eb) => eb("words", "in", withWords(eb, [term.value])));
    case "load": {
      const than = { more: ">", less: "<", exactly: "=" }[term.than] as ">";
      return done((eb) =>
        eb("id", "in", (of) =>
          of
            .selectFrom("change_loads")
            .select("change_loads.change_set")
            .whereRef("change_loads.head", "=", "change_sets.head")
            .where("load", than, term.number),
        ),
      );
    }
    case "path":
      return done((eb) => eb("id", "in", touching(eb, term.value)));
    case "label":
      return done((eb) => labelled(eb, term.value));
    case "threads":
    case "rounds": {
      const column = term.key === "threads" ? "open_threads" : "revision";
      return done((eb) => eb(column, { more: ">", less: "<", exactly: "=" }[term.than] as ">", term.number));
    }
    case "age":
    case "still": {
      const column = term.key === "age" ? "opened_at" : "changed_at";
      return done((eb) => eb(column, term.than === "more" ? "<" : ">", app.now() - term.span));
    }
    case "state":
      if (term.value === "going") return done((eb) => eb("state", "in", GOING));
      if (term.value === "settled") return done((eb) => eb("state", "in", SETTLED));
      return done((eb) => eb("state", "=", term.value as "open"));
    case "checks":
      return done((eb) => eb("checks", "=", term.value));
    case "in": {
      const found = seen.find(({ name }) => name === term.value);
      return done((eb) => eb("repository", "=", found?.id ?? ""));
    }
    case "from":
      return branch("source", term.value);
    case "into":
      return branch("target", term.value);
    case "move":
      return done(moves(person, seen, term.value));
    case "asked":
      if (term.value === "nobody") return done((eb) => eb.not(eb("id", "in", people(eb).where("asked", "=", 1))));
      if (term.value === "me")
        return done((eb) => eb("id", "in", people(eb).where("asked", "=", 1).where(isMe(person, seen))));
      return ofPerson(
        app,
        person,
        term.value,
        (id) => (eb) => eb("id", "in", people(eb).where("asked", "=", 1).where("person", "=", id)),
      );
    case "by":
      return ofPerson(app, person, term.value, (id) => (eb) => eb("author", "=", id));
    case "with":
      return ofPerson(app, person, term.value, (id) => (eb) => eb("id", "in", people(eb).where("person", "=", id)));
  }
}

/** Whose turn it is. Mine where it is for me, or for anyone of my role and I was not in it yet. */
function moves(person: Person, seen: Seen, value: string): Where {
  if (value === "author" || value === "reviewers") return (eb) => eb("turn", "=", value);
  return (eb) =>
    eb.and([
      eb("state", "in", GOING),
      eb.or([
        eb("id", "in", people(eb).where("moves", "=", 1).where("person", "=", person.id)),
        eb.and([
          eb.not(eb("id", "in", people(eb).where("person", "=", person.id))),
          eb("id", "in", people(eb).where("moves", "=", 1).where(isMe(person, seen))),
        ]),
      ]),
    ]);
}

/** Change sets that touch a file, something in a folder (`tariff/`), or a file whose name ends so (`*.sql`). Compared as text: nothing in it is a pattern. */
function touching(eb: Builder, value: string) {
  const paths = eb.selectFrom("change_paths").select("change_paths.change_set");
  const folder = value.replace(/\*+$/, "");
  if (folder.endsWith("/"))
    // From the folder's name up to the one that would come after everything in it.
    return paths.where("path", ">=", folder).where("path", "<", `${folder.slice(0, -1)}0`);
  if (value.startsWith("*")) {
    const ending = value.replace(/^\*+/, "");
    return paths.where(sql<boolean>`substr(path, ${-ending.length}) = ${ending}`);
  }
  return paths.where("path", "=", value);
}

/** Change sets with a label that their repository has; or with none of those. */
function labelled(eb: Builder, value: string) {
  const held = eb
    .selectFrom("change_labels")
    .innerJoin("change_sets as holder", "holder.id", "change_labels.change_set")
    .innerJoin("labels", (join) =>
      join.onRef("labels.repository", "=", "holder.repository").onRef("labels.name", "=", "change_labels.label"),
    )
    .select("change_labels.change_set");
  return value === "none"
    ? eb.not(eb("id", "in", held))
    : eb("id", "in", held.where("change_labels.label", "=", value));
}

type Builder = ExpressionBuilder<Schema, "change_sets">;

function people(eb: Builder) {
  return eb.selectFrom("change_set_people").select("change_set");
}

/** The rows of people that mean somebody: by their id, or by the role that they have there. */
function isMe(person: Person, seen: Seen) {
  return (eb: ExpressionBuilder<Schema, "change_set_people">) => {
    const inRole = (role: string) => {
      const there = seen.filter((one) => one.role === role).map(({ id }) => id);
      const own = eb
        .selectFrom("change_sets as of")
        .select("of.id")
        .where("of.repository", "in", there.length > 0 ? there : [""]);
      return eb.and([eb("person", "=", anyOf(role)), eb("change_set", "in", own)]);
    };
    return eb.or([eb("person", "=", person.id), inRole("contributor"), inRole("keeper")]);
  };
}

function withWords(eb: Builder, words: readonly string[]) {
  const match = words.map(matching).join(" AND ");
  return eb.selectFrom("change_words").select("rowid").where(sql<SqlBool>`change_words match ${match}`);
}

/** A branch by its name, in which up to two stars stand for anything: more would let the store look for ever. */
function branch(column: "source" | "target", value: string): Outcome<Where> {
  if ((value.match(/\*/g) ?? []).length > 2)
    return refuse("invalid", "Two stars at most stand in the name of a branch.");
  if (!value.includes("*")) return done((eb) => eb(column, "=", value));
  const pattern = value.replace(/[[?]/g, "[$&]");
  return done((eb) => sql<SqlBool>`${eb.ref(column)} glob ${pattern}` as unknown as ReturnType<Where>);
}

async function ofPerson(
  app: AppContext,
  person: Person,
  name: string,
  make: (id: string) => Where,
): Promise<Outcome<Where>> {
  if (name === "me") return done(make(person.id));
  const found = await findPerson(app.db, name);
  // Who shares no repository with who asks is nobody to them.
  if (!found || !(await shareRepository(app, person, found)))
    return refuse("invalid", `Nobody here has the name “${name}”.`);
  return done(make(found.id));
}
