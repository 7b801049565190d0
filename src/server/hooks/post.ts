import { request as plain } from "node:http";
import { request as secure } from "node:https";
import { isIP } from "node:net";
import { isWithin, lookupOutside } from "./allowed-address";

/** So long a receiver may take, and so much of its answer is kept: in milliseconds, and in characters. */
const LONGEST = 10_000;
const KEPT = 500;

/** What a receiver answered; `status` is null where none came. */
export interface Answered {
  status: number | null;
  answer: string;
}

/**
 * Sends a body to an address and gives what came back. Follows no redirection, waits no longer than {@link LONGEST}, and reads no more than is kept. `within`:
 * also machines of this network may be told.
 */
export function post(url: URL, body: string, headers: Record<string, string>, within: boolean): Promise<Answered> {
  return new Promise((resolve) => {
    const host = url.hostname.replace(/^\[|\]$/g, "");
    // A name is looked at when it is looked up; an address is none.
    if (!within && isIP(host) !== 0 && isWithin(host))
      return resolve({ status: null, answer: `${host} is a machine within this network, which is not told anything.` });
    const ask = url.protocol === "https:" ? secure : plain;
    const request = ask(url, {
      method: "POST",
      headers: { ...headers, "content-type": "application/json", "content-length": Buffer.byteLength(body) },
      ...(within ? {} : { lookup: lookupOutside }),
      signal: AbortSignal.timeout(LONGEST),
      agent: false,
    });
    const fail = (error: Error) =>
      resolve({
        status: null,
        answer:
          error.name === "TimeoutError" || error.name === "AbortError"
            ? "It took longer than 10 seconds."
            : `${error.message}.`,
      });
    request.on("error", fail);
    request.on("response", (response) => {
      let text = "";
      const end = () => {
        response.destroy();
        resolve({
          status: response.statusCode ?? null,
          answer: `${response.statusCode} ${text.slice(0, KEPT)}`.trim(),
        });
      };
      response.setEncoding("utf8").on("data", (words: string) => {
        text += words;
        if (text.length > KEPT) end();
      });
      response.on("end", end);
      response.on("error", fail);
    });
    request.end(body);
  });
}
