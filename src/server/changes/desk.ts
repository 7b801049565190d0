import type { ChangeLine, DeskView } from "@/core/desk-view";
import { deskPlace } from "@/core/review/desk";
import { goesOn, newest } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import { loadChangeSets } from "@/store/log";
import { namesOf } from "../access/people";
import type { Person } from "../access/person";
import { folderOf, type Repository, repositoriesOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { freshTo } from "../reading/sizes";
import { factsFor, Look } from "../rules/facts";
import { historiesInPatience } from "./views";

const LATELY = 12;
const LISTS = { me: "forMe", them: "forThem", could: "couldBe", none: "elsewhere" } as const;

/** Where a person starts: what waits for them and why, what they wait for, what was settled lately. */
export async function desk(app: AppContext, person: Person, only?: Repository): Promise<DeskView> {
  const repositories = (await repositoriesOf(app, person)).filter(({ id }) => !only || id === only.id);
  const view: DeskView = { forMe: [], forThem: [], couldBe: [], elsewhere: [], settled: [] };
  if (repositories.length === 0) return view;
  const nameOf = new Map(repositories.map(({ id, name }) => [id, name]));
  const inMine = app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "in", [...nameOf.keys()]);
  const open = await inMine.where("state", "in", ["open", "draft"]).orderBy("changed_at", "desc").execute();
  const settled = await inMine
    .where("state", "in", ["merged", "withdrawn"])
    .orderBy("settled_at", "desc")
    .limit(LATELY)
    .execute();
  const changes = await loadChangeSets(
    app.db,
    [...open, ...settled].map(({ id }) => id),
  );
  const fullName = await namesOf(app.db);
  const look = new Look(app.db);
  const name = (id: string) => fullName.get(id) ?? "someone";
  for (const change of changes) {
    const line: ChangeLine = {
      repository: nameOf.get(change.repository) ?? "",
      number: change.number,
      title: change.title,
      state: change.state,
      author: name(change.author),
      authorId: change.author,
      source: change.source,
      target: change.target,
      revision: newest(change).number,
      changedAt: change.changedAt,
      openThreads: change.threads.filter(({ resolved }) => resolved === null).length,
      gate: null,
      reasons: [],
    };
    if (!goesOn(change)) {
      const by = change.settled ? ` by ${name(change.settled.by)}` : "";
      view.settled.push({ ...line, reasons: [`${change.state === "merged" ? "Merged" : "Withdrawn"}${by}.`] });
      continue;
    }
    const facts = await factsFor(app, app.db, change, person, look);
    line.gate = evaluateGate(change, facts.rule, facts.gate);
    const { histories } = await historiesInPatience(app, folderOf(app, { id: change.repository }), change);
    const again = change.again.some((one) => one.person === person.id);
    const fresh = again ? await freshTo(app, folderOf(app, { id: change.repository }), person, change) : null;
    const place = deskPlace(change, facts.actor, { ...facts, name, histories, fresh });
    view[LISTS[place.waits]].push({ ...line, reasons: place.reasons });
  }
  return view;
}
