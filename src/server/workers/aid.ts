import type { MessagePort, Transferable } from "node:worker_threads";
import type { ContentKey } from "@/core/diff/tree";
import { type AheadBatch, readBatch } from "./grammars/ahead";

/** The contents of both sides of a file; null for a side that is not there. */
export interface KeyPair {
  oldKey: ContentKey | null;
  newKey: ContentKey | null;
}

/** Another thread that takes a part of the work. */
export interface Aid {
  /** Compares some pairs of blobs: gives their comparisons, in the same order, as JSON. */
  compare: (pairs: KeyPair[]) => Promise<string[]>;
  /** Reads texts by their grammars, and tells of each as it is read. */
  read: (batch: AheadBatch, transfer: Transferable[]) => void;
}

/** A share of the work and its number; answered with the same number and what came of it, or what went wrong. */
interface Share {
  number: number;
  pairs: KeyPair[];
}
type Answer = { number: number; results: string[] } | { number: number; problem: string };

/** Gives work to the thread at the other end, once it has said that it is there; null until then. */
export function aidThrough(port: MessagePort): () => Aid | null {
  const waiting = new Map<number, { resolve: (results: string[]) => void; reject: (error: Error) => void }>();
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

/** At the other end: does what is asked for, until the port is closed. `compare` gives the comparison of a pair as JSON. */
export function helpThrough(port: MessagePort, compare: (pair: KeyPair) => Promise<string>): Promise<void> {
  return new Promise((resolve) => {
    port.on("close", resolve);
    port.on("message", async (asked: Share | AheadBatch) => {
      if ("claims" in asked) {
        // What could not be read here is read by who asked.
        await readBatch(asked).catch(() => asked.port.close());
        return;
      }
      try {
        const results = await Promise.all(asked.pairs.map(compare));
        port.postMessage({ number: asked.number, results } satisfies Answer);
      } catch (error) {
        port.postMessage({ number: asked.number, problem: String(error) } satisfies Answer);
      }
    });
    port.postMessage("ready");
  });
}
