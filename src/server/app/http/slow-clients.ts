import type { IncomingMessage } from "node:http";

/** The head of a request is there by then, in milliseconds, or the connection is cut. */
export const HEADERS_WITHIN = 20_000;
/** A connection on which nothing is asked stays so long, in milliseconds: longer than proxies keep theirs, which would else send into one that is just being closed. */
export const KEPT_FOR = 75_000;
/** A body may be late by this much at first, in milliseconds; then it has to come at this rate, in bytes a second, over any such time. */
const LOOKED_AT_EVERY = 20_000;
const LEAST_RATE = 256;

/**
 * Cuts requests whose bodies hardly come: they would hold a connection and what waits on it. Large pushes are not cut, however long they
 * take, as long as they go on; while nobody reads (a full pipe to git) nothing is asked of them.
 */
export function cutSlowBodies(request: IncomingMessage, every = LOOKED_AT_EVERY): void {
  if (request.method === "GET" || request.method === "HEAD") return;
  let before = request.socket.bytesRead;
  const timer = setInterval(() => {
    if (request.complete || request.destroyed) return clearInterval(timer);
    const now = request.socket.bytesRead;
    const enough = ((now - before) * 1_000) / every >= LEAST_RATE;
    before = now;
    if (!enough && !request.isPaused() && request.readableLength === 0) request.destroy();
  }, every);
  timer.unref();
  request.once("close", () => clearInterval(timer));
}
