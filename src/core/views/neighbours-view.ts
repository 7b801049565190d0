/** What travels between the browser and the server about other servers that hold the reviews of the same repositories. */
import * as v from "valibot";

/** Another server, without its secrets. */
export interface NeighbourView {
  repository: string;
  name: string;
  address: string;
  /** Who comes in there; empty for nobody. */
  account: string;
  key: string;
  /** How often it is asked, in minutes. */
  every: number;
  /** Null before the first time. */
  askedAt: number | null;
  /** What was wrong then; empty where nothing was. */
  problem: string;
  /** Whether its webhook is heard. */
  isHeard: boolean;
}

/** Somebody of another server, by the name that their account has here. */
export interface StrangerView {
  name: string;
  fullName: string;
  /** The name of the person here as whom they are shown; null for none. */
  joined: string | null;
}

export interface NeighboursView {
  /** What this server signs with. */
  key: string;
  neighbours: NeighbourView[];
  strangers: StrangerView[];
}

const line = (most: number) => v.pipe(v.string(), v.trim(), v.maxLength(most));

export const neighbourRequest = v.object({
  ...{ repository: line(100), name: line(32), address: line(2_000), account: line(100), key: line(64) },
  ...{ secret: line(500), bell: line(500), every: v.pipe(v.number(), v.integer()) },
});
export type NeighbourRequest = v.InferOutput<typeof neighbourRequest>;

/** Whom somebody of another server is shown as; null for nobody of this one. */
export const joinRequest = v.object({ elsewhere: line(100), person: v.nullable(line(100)) });
