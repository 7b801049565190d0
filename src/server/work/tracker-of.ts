import type { AppContext } from "../app/context";
import { HttpTracker } from "./http-tracker";
import { OwnTracker } from "./own-tracker";
import type { Tracker } from "./tracker";

/** The tracker of a repository: the one that ships with the product, unless the settings name another. */
export function trackerOf(app: AppContext, repository: { id: string; name: string }): Tracker {
  const { tracker } = app.settings;
  return tracker ? new HttpTracker(app, tracker, repository.name) : new OwnTracker(app, repository.id);
}
