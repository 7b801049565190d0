import { type BaseIssue, getDotPath } from "valibot";

/** What was given stands in it, and may be long. */
const LONGEST = 300;

/**
 * What is wrong with something that has not the shape it should have, in one line: where in it, and what. Of several shapes that it could have
 * had, the first thing that is missing is said, not that it is none of them.
 *
 * @example `wrongIn(issues, "The request")` is `"remarks.0.body: Invalid type: Expected string but received 7"`
 */
export function wrongIn([issue]: readonly BaseIssue<unknown>[], whole: string): string {
  const places: string[] = [];
  for (let one: BaseIssue<unknown> | undefined = issue; one; one = one.issues?.[0]) {
    issue = one;
    const place = getDotPath(one);
    if (place) places.push(place);
  }
  return `${places.join(".") || whole}: ${issue.message}`.slice(0, LONGEST);
}
