import type { IncomingMessage, ServerResponse } from "node:http";
import { join } from "node:path";
import { atLeast } from "@/core/review/roles";
import { endBackend, startBackend } from "@/git/transport/http-backend";
import { enter } from "../access/repositories";
import { bearerOf } from "../access/tokens";
import { whenceOf } from "../access/whence";
import type { AppContext } from "../app/context";
import { readWants } from "./git-wants";
import { answerHooks } from "./pushing/hooks";

/** Only these parts of git's smart HTTP are served; everything else under /git/ does not exist. */
const PATH = /^\/git\/([a-z0-9][a-z0-9._-]*?)(?:\.git)?\/(info\/refs|git-upload-pack|git-receive-pack)$/;

/** Whether a request is git's. */
export function isGit(path: string): boolean {
  return path.startsWith("/git/");
}

/** Serves git: `git http-backend` does the talking, and packs stream through without ever being held whole. */
export async function serveGit(app: AppContext, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const url = new URL(request.url ?? "/", "http://localhost");
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
    folder,
    service,
    method,
    query: url.search.slice(1),
    person: person.name,
    headers: request.headers,
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
  });
  const begun = { person: person.name, from: whenceOf(request, app.settings), repository: repository.name };
  if (backend.hooks) answerHooks(app, backend.hooks, begun);
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

function say(response: ServerResponse, status: number, words: string): void {
  response.statusCode = status;
  response.setHeader("content-type", "text/plain; charset=utf-8");
  response.end(words === "" ? "" : `${words}\n`);
}
