import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { gitText } from "@/git/run";
import type { Person } from "../access/person";
import { enter, type Repository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { syncWith } from "./exchange";

/** The repository of a clone that is served alone: a server speaks to no remote in the name of who asks. */
async function cloneOf(
  app: AppContext,
  person: Person,
  repo: string,
): Promise<Outcome<{ repository: Repository; folder: string }>> {
  const entered = await enter(app, person, repo, "keeper");
  if (!entered.ok) return entered;
  return app.settings.alone ? entered : refuse("missing", "This is for a clone that is served alone.");
}

/** The names of the clone's remotes. */
export async function remotesOf(app: AppContext, person: Person, repo: string): Promise<Outcome<string[]>> {
  const clone = await cloneOf(app, person, repo);
  if (!clone.ok) return clone;
  return done((await gitText(clone.value.folder, ["remote"])).split("\n").filter(Boolean));
}

/** {@link syncWith} one of the clone's remotes, one at a time. */
export async function syncAlone(
  app: AppContext,
  person: Person,
  repo: string,
  { remote, offer }: { remote: string; offer?: boolean },
  told: (words: string) => void,
): Promise<Outcome<null>> {
  const remotes = await remotesOf(app, person, repo);
  if (!remotes.ok) return remotes;
  if (!remotes.value.includes(remote)) return refuse("missing", `This clone has no remote ${remote}.`);
  const clone = await cloneOf(app, person, repo);
  if (!clone.ok) return clone;
  return app.inTurn("sync", () => syncWith(app, clone.value.repository, remote, told, offer));
}
