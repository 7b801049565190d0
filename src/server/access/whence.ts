import type { IncomingMessage } from "node:http";
import type { Settings } from "../app/settings";

/** The header in which the server hands the address of a visitor on to its pages and routes; what a client sends in it is thrown away. */
export const FROM = "x-lens-from";

/**
 * From which network address a request comes. Behind a proxy it is the last that `X-Forwarded-For` names, which the proxy itself wrote; the
 * ones before it are anybody's word.
 */
export function whenceOf(request: IncomingMessage, { proxied }: Pick<Settings, "proxied">): string {
  const told = proxied
    ? String(request.headers["x-forwarded-for"] ?? "")
        .split(",")
        .at(-1)
        ?.trim()
    : "";
  return told || (request.socket.remoteAddress ?? "").replace(/^::ffff:/, "");
}
