import { randomBytes, timingSafeEqual } from "node:crypto";
import type { IncomingMessage, ServerResponse } from "node:http";
import { join } from "node:path";
import * as v from "valibot";
import { atLeast } from "@/core/review/roles";
import { endBackend, startBackend } from "@/git/transport/http-backend";
import { enter } from "../access/repositories";
import { bearerOf } from "../access/tokens";
import { whenceOf } from "../access/whence";
import type { AppContext } from "../app/context";
import { readWants } from "./git-wants";
import { afterPush } from "./pushing/after";
import { beforePush } from "./pushing/before";

/** Only these parts of git's smart HTTP are served; everything else under /git/ does not exist. */
const PATH = /^\/git\/([a-z0-9][a-z0-9._-]*?)(?:\.git)?\/(info\/refs|git-upload-pack|git-receive-pack)$/;
const HOOK = "/git/hook";
/** Known to this process and to the hooks that it starts, and to nobody else. */
const SECRET = randomBytes(32).toString("hex");

/** Whether a request is git's, or one of our hooks'. */
export function isGit(path: string): boolean {
  return path.startsWith("/git/");
}

/** Serves git: `git http-backend` does the talking, and packs stream through without ever being held whole. */
export async function serveGit(app: AppContext, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const url = new URL(request.url ?? "/", "http://localhost");
  if (url.pathname === HOOK) return answerHook(app, request, response);
  const [, name, service] = PATH.exec(url.pathname) ?? [];
  const method = service === "info/refs" ? "GET" : "POST";
  if (!name || request.method !== method) return say(response, 404, "There is no such repository here.");
  const bearer = await bearerOf(app, request.headers.authorization ?? null);
  if (!bearer) {
    response.setHeader("www-authenticate", 'Basic realm="Earnest Lens", charset="UTF-8"');
    return say(response, 401, "Sign in with your name, and a personal token as the password.");
  }
  const { person, scopes } = bearer;
  if (!scopes.includes("git")) return say(response, 403, "This token is not for git: make one that is.");
  const asked = url.searchParams.getAll("service");
  if (asked.length > 1) return say(response, 400, "One service at a time.");
  const entered = await enter(app, person, name);
  if (!entered.ok) return say(response, 404, entered.refusal.reason);
  const { folder, role, repository } = entered.value;
  const pushes = service === "git-receive-pack" || asked[0] === "git-receive-pack";
  if (pushes && !atLeast(role, "contributor"))
    return say(response, 403, `You are a reader of ${repository.name}: only contributors and keepers can push.`);
  let body: Buffer | null = null;
  if (service === "git-upload-pack" && /version=2/.test(String(request.headers["git-protocol"] ?? ""))) {
    const read = await readWants(app, folder, request);
    if (!read.ok) return say(response, read.refusal.code === "missing" ? 403 : 400, read.refusal.reason);
    body = read.value;
  }
  const backend = startBackend({
    ...{ folder, service, method, query: url.search.slice(1), person: person.name, headers: request.headers },
    config: {
      "http.receivepack": "true",
      "receive.advertisePushOptions": "true",
      "receive.fsckObjects": "true",
      // Of ours only the ledgers can be pushed to, and what is handed along with one.
      "receive.hideRefs": ["refs/lens", "refs/lens-ledger", "refs/lens-from", "!refs/lens/ledger", "!refs/lens/handed"],
      "uploadpack.hideRefs": ["refs/lens-ledger", "refs/lens-from", "refs/lens/handed"],
      "uploadpack.allowFilter": "true",
      "core.hooksPath": join(app.settings.root, "hooks"),
    },
    env: {
      LENS_HOOK: `http://127.0.0.1:${app.settings.port}${HOOK}`,
      LENS_HOOK_SECRET: SECRET,
      LENS_NODE: process.execPath,
      LENS_HOOK_PERSON: person.name,
      LENS_HOOK_FROM: whenceOf(request, app.settings),
      LENS_HOOK_REPOSITORY: repository.name,
    },
  });
  let complaint = "";
  backend.stderr.setEncoding("utf8").on("data", (words: string) => {
    complaint = (complaint + words).slice(-4_000);
  });
  // Either side may go away in the middle: then the other has nothing left to do.
  backend.stdin.on("error", () => undefined);
  request.on("aborted", () => endBackend(backend));
  response.on("close", () => endBackend(backend));
  if (body) backend.stdin.end(body);
  else request.pipe(backend.stdin);
  backend.on("error", (error) => {
    app.log.error({ err: error }, "git could not be started");
    if (!response.headersSent) say(response, 500, "git could not be started here.");
  });
  backend.on("close", (code) => {
    if (code !== 0 && code !== null) app.log.warn({ code, complaint, path: url.pathname }, "git ended with an error");
    if (!response.headersSent) say(response, 500, "git ended early.");
  });
  streamAnswer(backend.stdout, response);
}

/** Turns what a CGI program writes into an answer: its head first, then everything else as it comes. */
function streamAnswer(from: NodeJS.ReadableStream, response: ServerResponse): void {
  let head = Buffer.alloc(0);
  const gather = (chunk: Buffer) => {
    head = Buffer.concat([head, chunk]);
    const end = head.indexOf("\r\n\r\n");
    if (end < 0) return;
    from.off("data", gather);
    for (const line of head.subarray(0, end).toString("latin1").split("\r\n")) {
      const [, name, value] = /^([\w-]+):\s*(.*)$/.exec(line) ?? [];
      if (name?.toLowerCase() === "status") response.statusCode = Number.parseInt(value, 10);
      else if (name) response.setHeader(name, value);
    }
    response.write(head.subarray(end + 4));
    from.pipe(response);
  };
  from.on("data", gather);
}

const hookRequest = v.object({
  hook: v.picklist(["pre-receive", "post-receive"]),
  person: v.string(),
  from: v.optional(v.string(), ""),
  repository: v.string(),
  /** Lines of "old new ref". */
  updates: v.pipe(v.string(), v.maxLength(1_000_000)),
  options: v.pipe(v.array(v.string()), v.maxLength(100)),
});

/** What a hook asks: whether a push may be, or what is to be done after it. Only our own hooks know the secret. */
async function answerHook(app: AppContext, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const given = Buffer.from(String(request.headers["x-lens-secret"] ?? ""));
  const right = Buffer.from(SECRET);
  if (given.length !== right.length || !timingSafeEqual(given, right))
    return say(response, 404, "There is nothing here.");
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk);
  const parsed = v.safeParse(hookRequest, JSON.parse(Buffer.concat(chunks).toString("utf8")));
  if (!parsed.success) return say(response, 422, "The hook asked for something else than expected.");
  const { hook, person, from, repository, updates, options } = parsed.output;
  const push = {
    person,
    from,
    repository,
    options,
    updates: updates.split("\n").flatMap((line) => {
      const [old, next, ref] = [line.slice(0, line.indexOf(" ")), ...rest(line)];
      return ref ? [{ old, next, ref }] : [];
    }),
  };
  try {
    if (hook === "pre-receive") {
      const refusal = await beforePush(app, push);
      return say(response, refusal ? 403 : 200, refusal ?? "");
    }
    say(response, 200, (await afterPush(app, push)).join("\n"));
  } catch (error) {
    app.log.error({ err: error, hook, repository }, "a push could not be dealt with");
    say(
      response,
      500,
      hook === "pre-receive"
        ? "Something went wrong here: nothing of this push was taken."
        : "The push is in; what it means for change sets could not be recorded. The server’s log says why.",
    );
  }
}

function rest(line: string): [next: string, ref: string] {
  const first = line.indexOf(" ");
  const second = line.indexOf(" ", first + 1);
  return [line.slice(first + 1, second), line.slice(second + 1)];
}

function say(response: ServerResponse, status: number, words: string): void {
  response.statusCode = status;
  response.setHeader("content-type", "text/plain; charset=utf-8");
  response.end(words === "" ? "" : `${words}\n`);
}
