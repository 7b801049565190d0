import type { AskOf } from "@/core/doors/endpoints/table";
import type { PointNames } from "@/core/reading/points";
import type { ChangePlace } from "../../asking/ask";

const READING = "GET /api/repos/{repo}/changes/{number}/reading";

/** How a page asks for the files between two points: the page that is sent says it, too, so that the browser need not wait for the scripts to say it. */
export function readingAsked(parts: ChangePlace, { from, to }: PointNames): [typeof READING, AskOf<typeof READING>] {
  return [READING, { parts, query: { from, to, brief: "" } }];
}
