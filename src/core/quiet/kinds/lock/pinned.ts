/** One thing that a lockfile pins. Lines are 0-based, end exclusive. */
export interface Pinned {
  /** What names it in both states. */
  key: string;
  name: string;
  version: string;
  /** Where it is fetched from, without what the name and the version say of it; null where that does not fit the two, "" for nowhere. */
  host: string | null;
  hash: string;
  runsScript: boolean;
  start: number;
  end: number;
  /** Lines that are not understood. */
  odd: number[];
  /** Lines, by what they say, that are told only where the same was said of it before. */
  own: Map<string, number>;
}

/** Reads all that a lockfile pins; null where it is not written as its program writes it. */
export type ReadPinned = (lines: readonly string[]) => Pinned[] | null;

/** An entry of which nothing is known yet but where it begins. */
export function pinned(key: string, name: string, start: number): Pinned {
  return {
    key,
    name,
    version: "",
    host: "",
    hash: "",
    runsScript: false,
    start,
    end: start,
    odd: [],
    own: new Map(),
  };
}
