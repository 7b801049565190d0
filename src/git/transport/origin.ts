import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { GitError } from "../run";

/** Where a repository is taken in from: a folder or a bundle on this machine, an address that git fetches from, or nowhere: empty, to push to. */
export type Origin =
  | { kind: "folder"; path: string }
  | { kind: "bundle"; path: string }
  | ({ kind: "address"; url: string } & Credentials)
  | { kind: "nothing"; branch: string };

/** With what one comes in at an address; the secret is a password or a token. */
export interface Credentials {
  account?: string;
  secret?: string;
}

/** An origin as it is said on a command line: an address, a bundle, or a folder. */
export function originOf(place: string): Origin {
  if (/^https?:\/\//.test(place)) return { kind: "address", url: place };
  return place.endsWith(".bundle") ? { kind: "bundle", path: place } : { kind: "folder", path: place };
}

/**
 * How git fetches from an address. The credentials go to git by its environment, which only this account of the machine can look into, and
 * from there to this one address: redirections are not followed, so they are told to nobody else. Refuses other schemes than http and
 * https, and a password within the address, where logs and lists would show it.
 */
export function wayToAddress({
  url,
  account,
  secret,
}: { url: string } & Credentials): Outcome<{ from: string; env: Record<string, string> }> {
  const address = URL.canParse(url) ? new URL(url) : null;
  if (!address || !/^https?:$/.test(address.protocol))
    return refuse("invalid", "Give an address that begins with https:// or http://.");
  if (address.username || address.password)
    return refuse("invalid", "Give the name and the password beside the address, not within it.");
  const settings: [string, string][] = [
    ["http.followRedirects", "false"],
    ["credential.helper", ""],
    // What has not sent a thousand bytes in a minute has stopped.
    ["http.lowSpeedLimit", "1000"],
    ["http.lowSpeedTime", "60"],
  ];
  if (secret) {
    const basic = Buffer.from(`${account || "git"}:${secret}`).toString("base64");
    settings.push([`http.${address.href}.extraHeader`, `Authorization: Basic ${basic}`]);
  }
  const env: Record<string, string> = { GIT_ALLOW_PROTOCOL: "http:https", GIT_CONFIG_COUNT: String(settings.length) };
  for (const [i, [key, value]] of settings.entries()) {
    env[`GIT_CONFIG_KEY_${i}`] = key;
    env[`GIT_CONFIG_VALUE_${i}`] = value;
  }
  return done({ from: address.href, env });
}

/** What git said when it could not fetch, as a sentence. */
export function whyNot({ stderr }: GitError): string {
  for (const [said, sentence] of REASONS) if (said.test(stderr)) return sentence;
  const last = stderr
    .trim()
    .split("\n")
    .findLast((line) => /^(?:fatal|error):/.test(line));
  return `git could not read it: ${last?.replace(/^\w+: /, "").slice(0, 300) ?? "it gave no reason"}.`;
}

const REASONS: [RegExp, string][] = [
  [
    /could not read Username|Authentication failed|error: 40[13]/,
    "It asks who wants it: give a name and a password or token that may read it.",
  ],
  [/Could not resolve host/, "There is no machine of that name that can be reached from here."],
  [/error: 30\d|redirect/i, "It answers that it is at another address: give that one."],
  [
    /Connection refused|Failed to connect|timed out|Operation too slow/,
    "It could not be reached, or stopped answering.",
  ],
  [/not found|error: 404|not valid: is this a git repository/, "There is no git repository at that address."],
  [/not look like a v2 or v3 bundle|unrecognized header|not a bundle/i, "That is not a bundle that git made."],
  [
    /lacks these prerequisite/,
    "The bundle holds a part of a history only: make it with “git bundle create FILE --all”.",
  ],
];
