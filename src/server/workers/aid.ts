import type { MessagePort, Transferable } from "node:worker_threads";
import { compareWithText } from "@/core/diff/compare";
import { type Survey, surveyOf } from "@/core/quiet/survey";
import { type AheadBatch, readBatch } from "./grammars/ahead";

/** A pair to be compared and surveyed, and the path that it goes by. */
export interface SurveyedPair {
  path: string;
  /** The contents of both sides, null for one that is not there; null where they are too large. */
  bytes: { old: Uint8Array | null; next: Uint8Array | null } | null;
}

/** What came of a pair: its comparison as JSON, and what the file says by itself. */
export interface Surveyed {
  json: string;
  survey: Survey;
}

/** Another thread that takes a part of the work. */
export interface Aid {
  /** Compares and surveys some pairs of blobs: gives what came of each, in the same order; null for what is too large. */
  compare: (pairs: SurveyedPair[]) => Promise<(Surveyed | null)[]>;
  /** Reads texts by their grammars, and tells of each as it is read. */
  read: (batch: AheadBatch, transfer: Transferable[]) => void;
}

/** A share of the work and its number; answered with the same number and what came of it, or what went wrong. */
interface Share {
  number: number;
  pairs: SurveyedPair[];
}
type Answer = { number: number; results: (Surveyed | null)[] } | { number: number; problem: string };

/** Gives work to the thread at the other end, once it has said that it is there; null until then. */
export function aidThrough(port: MessagePort): () => Aid | null {
  const waiting = new Map<
    number,
    { resolve: (results: (Surveyed | null)[]) => void; reject: (error: Error) => void }
  >();
  let ready = false;
  let last = 0;
  port.on("message", (message: "ready" | Answer) => {
    if (message === "ready") {
      ready = true;
      return;
    }
    const { resolve, reject } = waiting.get(message.number)!;
    waiting.delete(message.number);
    if ("results" in message) resolve(message.results);
    else reject(new Error(message.problem));
  });
  const aid: Aid = {
    compare: (pairs) =>
      new Promise((resolve, reject) => {
        waiting.set(++last, { resolve, reject });
        port.postMessage({ number: last, pairs } satisfies Share);
      }),
    read: (batch, transfer) => port.postMessage(batch, transfer),
  };
  return () => (ready ? aid : null);
}

/** At the other end: does what is asked for, until the port is closed. */
export function helpThrough(port: MessagePort): Promise<void> {
  return new Promise((resolve) => {
    port.on("close", resolve);
    port.on("message", async (asked: Share | AheadBatch) => {
      if ("claims" in asked) {
        // What could not be read here is read by who asked.
        await readBatch(asked).catch(() => asked.port.close());
        return;
      }
      try {
        port.postMessage({ number: asked.number, results: asked.pairs.map(surveyed) } satisfies Answer);
      } catch (error) {
        port.postMessage({ number: asked.number, problem: String(error) } satisfies Answer);
      }
    });
    port.postMessage("ready");
  });
}

function surveyed({ path, bytes }: SurveyedPair): Surveyed | null {
  if (!bytes) return null;
  const { comparison, left, right } = compareWithText(bytes.old, bytes.next);
  return { json: JSON.stringify(comparison), survey: surveyOf(path, left.lines, right.lines, comparison) };
}
