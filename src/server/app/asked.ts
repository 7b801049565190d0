import { done, type Outcome } from "@/core/outcome";
import type { ChangeSet } from "@/core/review/state";
import { findChange } from "../changes/changes";
import { type FoundStates, type ReadStates, statesOf } from "../reading/states";
import type { AppContext } from "./context";
import { numberOf } from "./http";
import type { Asker } from "./serve";

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
