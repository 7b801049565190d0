import * as v from "valibot";
import { wrongPattern } from "../../pattern/pattern";
import type { EventName } from "../../review/events";

/** What somebody can be told of, with words for it. */
export const TOPICS = {
  asked: "you are asked for a review, or to look again",
  said: "somebody says something in what you take part in",
  revisions: "a revision comes to it",
  settled: "it merges, is withdrawn or opened again",
  followed: "something comes to what you follow",
} as const;
export type Topic = keyof typeof TOPICS;

/** From the loudest to the quietest. */
export const WAYS = ["mail", "page", "neither"] as const;
export type Way = (typeof WAYS)[number];

const time = v.pipe(v.string(), v.regex(/^(?:[01]\d|2[0-3]):[0-5]\d$/, "Give a time such as 07:30."));
const pattern = v.pipe(
  v.string(),
  v.trim(),
  v.minLength(1, "Give a path or a pattern, such as tariff/**."),
  v.maxLength(300),
  v.check((text) => wrongPattern(text) === null, "That is no pattern, such as tariff/** or *.sql."),
);
const zone = v.pipe(
  v.string(),
  v.maxLength(60),
  v.check((name) => isZone(name), "That is no time zone."),
);

/** What somebody wants to hear, how, and when. */
export const wishes = v.object({
  /** Mail goes with a notice on the page; `page` is that notice alone. */
  ways: v.object(
    Object.fromEntries(Object.keys(TOPICS).map((topic) => [topic, v.picklist(WAYS)])) as Record<
      Topic,
      v.PicklistSchema<typeof WAYS, undefined>
    >,
  ),
  /** Repositories of which they want to hear less, whatever it is. */
  less: v.optional(
    v.pipe(
      v.array(v.object({ repository: v.pipe(v.string(), v.maxLength(100)), way: v.picklist(["page", "neither"]) })),
      v.maxLength(100),
    ),
    [],
  ),
  /** Between these times no mail goes out; it waits for the end. Null: at any time. */
  quiet: v.nullable(v.object({ from: time, to: time })),
  /** One mail a day at this time, with all there is. Null: each by itself. */
  digest: v.nullable(time),
  zone,
  /** Names of people whose change sets are followed. */
  people: v.pipe(v.array(v.pipe(v.string(), v.maxLength(60))), v.maxLength(100)),
  paths: v.pipe(v.array(v.object({ repository: v.pipe(v.string(), v.maxLength(100)), pattern })), v.maxLength(100)),
});
export type Wishes = v.InferOutput<typeof wishes>;

export const USUAL_WISHES: Wishes = {
  ways: { asked: "mail", said: "mail", revisions: "mail", settled: "mail", followed: "page" },
  ...{ less: [], quiet: null, digest: null, zone: "UTC", people: [], paths: [] },
};

const OF: Partial<Record<EventName, Topic>> = {
  ...{ asked: "asked", "asked-again": "asked", readied: "asked" },
  ...{ revised: "revisions", retargeted: "revisions", described: "revisions" },
  ...{ merged: "settled", withdrawn: "settled", "opened-again": "settled", "merge-unasked": "settled" },
};

/** What kind of news an event is for who takes part in a change set. */
export function topicOf(kind: EventName): Topic {
  return OF[kind] ?? "said";
}

/**
 * By which way somebody hears of a topic in a repository: as they wish for the topic, but no louder than for the repository.
 *
 * @example wayOf({ ...USUAL_WISHES, less: [{ repository: "quay", way: "page" }] }, "asked", "quay") // "page", where it were "mail"
 */
export function wayOf({ ways, less }: Pick<Wishes, "ways" | "less">, topic: Topic, repository: string): Way {
  const most = less.find((one) => one.repository === repository)?.way ?? "mail";
  return WAYS[Math.max(WAYS.indexOf(ways[topic]), WAYS.indexOf(most))];
}

function isZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat("en", { timeZone: name });
    return name !== "";
  } catch {
    return false;
  }
}

const DAY = 1_440;
const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3));

/**
 * From when on mail may go out, in milliseconds since 1970: now, at the end of a quiet time, or at the time of the digest.
 *
 * @example hearsAt({ ...USUAL_WISHES, quiet: { from: "22:00", to: "07:00" } }, at 23:30 UTC) // 07:00 of the next day
 */
export function hearsAt(
  { quiet, digest, zone: timeZone }: Pick<Wishes, "quiet" | "digest" | "zone">,
  now: number,
): number {
  const parts = new Intl.DateTimeFormat("en", {
    timeZone,
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  }).formatToParts(now);
  const part = (type: string) => Number(parts.find((one) => one.type === type)?.value ?? 0);
  const minute = part("hour") * 60 + part("minute");
  const wait = (until: number) => now + ((until - minute + DAY) % DAY) * 60_000;
  if (digest) return wait(minutes(digest));
  if (!quiet) return now;
  const [from, to] = [minutes(quiet.from), minutes(quiet.to)];
  const within = from <= to ? minute >= from && minute < to : minute >= from || minute < to;
  return within ? wait(to) : now;
}
