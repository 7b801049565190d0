import * as v from "valibot";
import { gitHere } from "@/git/clone";
import { Stop } from "./stop";

/** The repository that a clone was made from, as its server knows it, and how to ask there. */
export interface Origin {
  /** Of the server, without a slash at its end. */
  address: string;
  repository: string;
  remote: string;
  /** It is this clone by itself. */
  alone?: boolean;
  /** What shows who asks. */
  headers: Record<string, string>;
  /** Asks in another way than over the network. */
  ask?: (path: string, init: RequestInit) => Promise<Response>;
}

/** There is no server behind a remote. */
export class NoServer extends Stop {}
/** It does not answer. */
export class Away extends Stop {}

const refusal = v.object({ refusal: v.object({ reason: v.string() }) });

/** Finds the server behind a remote of the clone in `folder`; asks git for a name and token as git itself would. */
export async function originOf(folder: string, remote: string): Promise<Origin> {
  const { out, code } = await gitHere(folder, ["remote", "get-url", "--", remote]);
  if (code !== 0)
    throw new NoServer(`There is no remote “${remote}” here: run this within a clone, or name it by --remote.`);
  const [, base, repository] = /^(https?:\/\/.+)\/git\/([^/]+?)(?:\.git)?\/?$/.exec(out.trim()) ?? [];
  if (!base || !repository)
    throw new NoServer(`${out.trim()} is not the address of a repository here: it has no /git/NAME.git.`);
  return { ...(await credentials(folder, base)), repository, remote };
}

/** The address of a change set in the API, or of something below it. */
export function changePath({ repository }: Origin, number: string, below = ""): string {
  if (!/^\d+$/.test(number)) throw new Stop(`“${number}” is not the number of a change set.`);
  return `/api/repos/${encodeURIComponent(repository)}/changes/${number}${below}`;
}

/** What the server answers about a change set, checked; a refusal ends the command with its reason. */
export async function askChange<S extends v.GenericSchema>(
  origin: Origin,
  number: string,
  schema: S,
): Promise<v.InferOutput<S>> {
  return askServer(origin, changePath(origin, number), schema);
}

/** What is sent: JSON, or a text as it is; by POST unless said. */
type Sent = ({ json: unknown } | { text: string }) & { method?: "POST" | "PUT" | "DELETE" };

/** What the server answers to a read, or to what is `sent`, checked; a refusal ends the command with its reason. */
export async function askServer<S extends v.GenericSchema>(
  origin: Origin,
  path: string,
  schema: S,
  sent?: Sent,
): Promise<v.InferOutput<S>> {
  const { address } = origin;
  const response = await answerOf(origin, path, sent);
  const body: unknown = response.status === 204 ? null : await response.json().catch(() => null);
  const answer = v.safeParse(schema, body);
  if (!answer.success) throw new Stop(`${address} answers with something that is not known here.`);
  return answer.output;
}

/** A text that the server answers with. */
export async function textOf(origin: Origin, path: string): Promise<string> {
  return (await answerOf(origin, path)).text();
}

async function answerOf({ address, headers, ask }: Origin, path: string, sent?: Sent): Promise<Response> {
  const isJson = sent !== undefined && "json" in sent;
  const type: Record<string, string> = sent ? { "content-type": isJson ? "application/json" : "text/plain" } : {};
  const init: RequestInit = {
    headers: { ...headers, ...type },
    ...(sent
      ? { method: sent.method ?? "POST", body: isJson ? JSON.stringify(sent.json) : (sent as { text: string }).text }
      : {}),
  };
  const response = await (ask ? ask(path, init) : fetch(`${address}${path}`, init)).catch((error: Error) => {
    if (error instanceof Stop) throw error;
    throw new Away(`${address} does not answer: ${(error.cause as Error | undefined)?.message ?? error.message}.`);
  });
  if (response.ok) return response;
  const told = v.safeParse(refusal, await response.json().catch(() => null));
  throw new Stop(told.success ? told.output.refusal.reason : `${address} answers with ${response.status}.`);
}

/** The server's address without a name in it, and what to show it. */
async function credentials(folder: string, base: string): Promise<Pick<Origin, "address" | "headers">> {
  const url = new URL(base);
  const { username, password } = url;
  url.username = "";
  url.password = "";
  const address = url.href.replace(/\/$/, "");
  const basic = (name: string, secret: string) => `Basic ${Buffer.from(`${name}:${secret}`).toString("base64")}`;
  const token = process.env.LENS_TOKEN;
  if (token) return { address, headers: { authorization: `Bearer ${token}` } };
  if (password)
    return { address, headers: { authorization: basic(decodeURIComponent(username), decodeURIComponent(password)) } };
  const asked = `protocol=${url.protocol.slice(0, -1)}\nhost=${url.host}\n${username ? `username=${username}\n` : ""}\n`;
  const { out, code } = await gitHere(folder, ["credential", "fill"], { input: asked });
  const told = Object.fromEntries(
    out.split("\n").map((line) => [line.split("=", 1)[0], line.slice(line.indexOf("=") + 1)]),
  );
  if (code !== 0 || !told.password) throw new Stop("git has no token for this server: set LENS_TOKEN to one.");
  return { address, headers: { authorization: basic(told.username ?? "", told.password) } };
}
