import { done, type Outcome } from "@/core/outcome";
import type { ChangeSet } from "@/core/review/state";
import { findChange } from "../changes/changes";
import { type FoundPoints, type Points, pointsOf } from "../reading/points";
import { type Asked, numberOf } from "./http";

/** The parts of an address that name a change set. */
export interface ChangeParts {
  repo: string;
  number: string;
}

/** The change set that a request is about. */
export function askedChange({ lens, person, parts }: Asked<ChangeParts>) {
  return findChange(lens, person, parts.repo, numberOf(parts.number));
}

/** The change set, and the two points of it that are to be compared: all of the newest revision unless the request says otherwise. */
export async function askedReading(
  asked: Asked<ChangeParts>,
): Promise<Outcome<{ change: ChangeSet; folder: string; name: Pick<Points, "from" | "to">; points: FoundPoints }>> {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const { searchParams } = asked.url;
  const name = {
    from: searchParams.get("from") ?? "base",
    to: searchParams.get("to") ?? `r${change.revisions.length}`,
  };
  const points = await pointsOf(asked.lens, asked.person, change, folder, name.from, name.to);
  return points.ok ? done({ change, folder, name, points: points.value }) : points;
}
