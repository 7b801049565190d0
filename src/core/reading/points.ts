/**
 * What of a change set is read: between which two states.
 *
 * `revision`: up to a revision `to`, from its base, from what the reader has seen, or from an earlier revision. `commits`: some commits of it
 * that follow each other, both ends included. `yardstick`: a revision held against a branch or tag.
 */
export type Points =
  | { kind: "revision"; from: "base" | "read" | number; to: number }
  | { kind: "commits"; first: string; last: string }
  | { kind: "yardstick"; name: string; to: number };

/** The two names by which addresses tell points: "base", "read", "r3", "before:COMMIT", "at:COMMIT", "live:NAME". */
export interface PointNames {
  from: string;
  to: string;
}

/** @example pointNames({ kind: "revision", from: "base", to: 2 }) // { from: "base", to: "r2" } */
export function pointNames(points: Points): PointNames {
  return NAMES[points.kind](points as never);
}

const NAMES: { [K in Points["kind"]]: (points: Extract<Points, { kind: K }>) => PointNames } = {
  revision: ({ from, to }) => ({ from: typeof from === "number" ? `r${from}` : from, to: `r${to}` }),
  commits: ({ first, last }) => ({ from: `before:${first}`, to: `at:${last}` }),
  yardstick: ({ name, to }) => ({ from: `live:${name}`, to: `r${to}` }),
};

/** What two names mean; null where they mean nothing together. The other way of {@link pointNames}. */
export function readPoints({ from, to }: PointNames): Points | null {
  const [, first] = /^before:([0-9a-f]{40}|[0-9a-f]{64})$/.exec(from) ?? [];
  const [, last] = /^at:([0-9a-f]{40}|[0-9a-f]{64})$/.exec(to) ?? [];
  if (first && last) return { kind: "commits", first, last };
  const end = revisionIn(to);
  if (end === null) return null;
  const [, name] = /^live:(.{1,300})$/.exec(from) ?? [];
  if (name) return { kind: "yardstick", name, to: end };
  const start = from === "base" || from === "read" ? from : revisionIn(from);
  return start === null ? null : { kind: "revision", from: start, to: end };
}

function revisionIn(name: string): number | null {
  const [, number] = /^r([1-9]\d{0,8})$/.exec(name) ?? [];
  return number ? Number(number) : null;
}

/** Whether both are the same. */
export function samePoints(a: Points, b: Points): boolean {
  const [one, other] = [pointNames(a), pointNames(b)];
  return one.from === other.from && one.to === other.to;
}

/** The revision that is shown as it is; null while single commits are shown. */
export function revisionOf(points: Points): number | null {
  return points.kind === "commits" ? null : points.to;
}

/** Whether these are all files of the change set to that reader: what is read of them so is read of the whole. */
export function isWhole(points: Points): boolean {
  return points.kind === "revision" && typeof points.from !== "number";
}
