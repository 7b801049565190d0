import { isObjectId } from "@/core/diff/tree";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { ChangeSet } from "@/core/review/state";
import { enter } from "../../access/repositories";
import { findChange } from "../../changes/changes";
import { mayServe } from "../../reading/shown";
import { type FoundStates, type ReadStates, statesOf } from "../../reading/states";
import type { AppContext } from "../context";
import type { Asker } from "../serve";
import { numberOf } from "./http";

/** A request about a change set. */
type AboutChange = Pick<Asker, "person"> & { app: AppContext; parts: { repo: string; number: string } };

/** The change set that a request is about. */
export function askedChange({ app, person, parts }: AboutChange) {
  return findChange(app, person, parts.repo, numberOf(parts.number));
}

/** The change set, and the two points of it that are to be compared: all of the newest revision unless the request says otherwise. */
export async function askedReading(
  asked: AboutChange & { query: { from?: string; to?: string } },
): Promise<Outcome<{ change: ChangeSet; folder: string; name: Pick<ReadStates, "from" | "to">; points: FoundStates }>> {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const { from = "base", to = `r${change.revisions.length}` } = asked.query;
  const points = await statesOf(asked.app, asked.person, change, folder, from, to);
  return points.ok ? done({ change, folder, name: { from, to }, points: points.value }) : points;
}

/** The blob that a request is about, where it is one that may be shown: one of the repository's states that somebody was shown. */
export async function askedBlob(
  { app, person, parts }: Pick<Asker, "person"> & { app: AppContext; parts: { repo: string } },
  { id, path }: { id: string; path: string },
): Promise<Outcome<{ folder: string; id: string; path: string }>> {
  const entered = await enter(app, person, parts.repo);
  if (!entered.ok) return entered;
  const { folder } = entered.value;
  if (!isObjectId(id)) return refuse("invalid", "Give the object id of a blob.");
  const may = await mayServe(app, folder, [id]);
  return may.ok ? done({ folder, id, path }) : may;
}
