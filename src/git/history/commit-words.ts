import { visibleWords } from "@/core/cautions/visible";
import { shortened } from "@/core/plain/words";

/** What people are told of a commit beside its files. */
export interface CommitWords {
  author: string;
  subject: string;
  body: string;
}

/** In characters: longer than anybody's, so that nobody's is an answer of megabytes. */
const LONGEST_NAME = 300;
const LONGEST_SUBJECT = 1_000;
const LONGEST_BODY = 20_000;
/** What the bodies of a list may have together; the commits after that are told without. */
const BODIES = 1_000_000;

/** A name, or an address, as people are told of it. */
export function nameOf(name: string): string {
  return visibleWords(shortened(name, LONGEST_NAME));
}

export function subjectOf(subject: string): string {
  return visibleWords(shortened(subject, LONGEST_SUBJECT));
}

/** The words of a list of commits: nothing in them hides or turns the rest around, and they have an end. */
export class Words {
  private left = BODIES;

  of(author: string, subject: string, body: string): CommitWords {
    const all = body.trim();
    const most = Math.min(LONGEST_BODY, this.left);
    // Blank lines hide no rest: what is longer than it may be says so, whatever is left of it without them.
    const isLong = all.length > most || body.length > LONGEST_BODY;
    const told = isLong ? `${shortened(all, most).replace(/…$/, "").trimEnd()}…` : all;
    this.left -= told.length;
    return { author: nameOf(author), subject: subjectOf(subject), body: visibleWords(told) };
  }
}

/** The last moment that a calendar of JavaScript has, in milliseconds since 1970. */
const LAST = 8_640_000_000_000_000;

/** Milliseconds since 1970 from the seconds that git tells: a commit may claim any, and a moment that no calendar has is the last one. */
export function timeOf(seconds: string): number {
  const at = Number(seconds) * 1000;
  return Number.isNaN(at) ? 0 : Math.max(-LAST, Math.min(LAST, at));
}
