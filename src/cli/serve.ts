import { randomUUID } from "node:crypto";
import { mkdirSync } from "node:fs";
import { createServer } from "node:http";
import { setFlagsFromString } from "node:v8";
import next from "next";
import { firstWord } from "@/server/access/first-start";
import { FROM, whenceOf } from "@/server/access/whence";
import { type AppContext, app } from "@/server/app/context";
import { canWrite } from "@/server/app/health";
import { saidNothingThere } from "@/server/app/http/nothing-there";
import { setPagePolicy } from "@/server/app/http/page-policy";
import { cutSlowBodies, HEADERS_WITHIN, KEPT_FOR } from "@/server/app/http/slow-clients";
import { holdFolder } from "@/server/app/serving-lock";
import { readSettings } from "@/server/app/settings";
import { startUpkeep } from "@/server/app/upkeep";
import { Runner } from "@/server/checks/runner";
import { isGit, serveGit } from "@/server/git-access/git-http";
import { Deliveries } from "@/server/hooks/deliveries";
import { Ledgers } from "@/server/ledger/ledgers";
import { Neighbours } from "@/server/ledger/neighbours";
import { EventHandlers } from "@/server/merging/event-handlers";
import { Notices } from "@/server/news/notices";
import { Preparing } from "@/server/reading/preparing";
import { settleIntents } from "@/server/refs/both";
import { listening } from "./listening";
import { loadAhead, OWN } from "./load-ahead";
import { need, Stop, say } from "./stop";

/** So long nobody has asked anything when repositories are packed, and when pages are loaded ahead, in milliseconds. */
const QUIET = { packing: 300_000, loading: 300 };

/**
 * What was collected last may grow by so much, in percent, before it is collected again. Left alone, a server that ten readers ask takes 200 MB more, most of
 * it garbage, and is hardly faster. One that fifty ask for an hour stood at 395 MB with 80 percent, at 340 to 385 with 40 and at 305 with 30, for a fiftieth of their time.
 */
const GROWS_BY = 30;

interface ServeOptions {
  dev: boolean;
  greeting?: (address: string) => string;
  /** On somebody's own clone: for this machine alone, and nothing in it is packed or tidied up by itself. */
  alone?: boolean;
  /** No port was asked for: where the one that was free is taken by now, another one does as well. */
  anyPort?: boolean;
  /** What is to be there before anybody asks; gives what is said of the address. */
  begin?: (app: AppContext) => Promise<(address: string) => string>;
}

/** Mail, as far as the settings ask for it: what it needs is loaded then alone, since a clone that is served begins sooner without it. */
async function startMail(installation: AppContext, address: string): Promise<{ stop: () => Promise<void> } | null> {
  const { mail, mailStandIn, mailListen, mailFetch } = installation.settings;
  if (!mail && !mailStandIn && mailListen === null && !mailFetch) return null;
  return (await import("@/server/news/post-office")).openPostOffice(installation, address);
}

/** Serves the pages until the process is told to end. Every request is logged with how long it took; never its query, cookie or body. */
export async function serve({ dev, greeting, alone = false, anyPort = false, begin }: ServeOptions): Promise<void> {
  setFlagsFromString(`--heap-growing-percent=${GROWS_BY}`);
  const settings = need(readSettings(process.env));
  process.env.LENS_ROOT = settings.root;
  process.env.LENS_DATA = settings.data;
  try {
    mkdirSync(settings.data, { recursive: true });
  } catch (error) {
    throw new Stop(`The data folder ${settings.data} cannot be made: ${(error as Error).message}.`);
  }
  need(canWrite(settings.data));
  const held = need(holdFolder(settings.data, settings.port));
  const installation = await app();
  // What fails where nobody listens is a mistake of ours, and none that ends the reading of everybody: it is logged whole.
  process.on("unhandledRejection", (error) => installation.log.error({ err: error }, "failed unheard"));
  // Only the server does this: a command running beside it would take a merge that is going on for one that was cut short.
  await settleIntents(installation);
  const told = await begin?.(installation);
  const pages = next({ dev, dir: settings.root, port: settings.port, quiet: true });
  await pages.prepare();
  const handle = pages.getRequestHandler();
  // A large push takes as long as it takes, as long as it goes on: see cutSlowBodies.
  // What others ask that is under way, streams of news apart, and when something was asked last.
  let under = 0;
  let askedAt = Date.now();
  const isQuiet = (since: number) => under === 0 && Date.now() - askedAt > since;
  const own = randomUUID();
  const waits = { headersTimeout: HEADERS_WITHIN, requestTimeout: 0, keepAliveTimeout: KEPT_FOR };
  const server = createServer(waits, (request, response) => {
    const begun = performance.now();
    const path = request.url?.split("?")[0];
    const isOwn = request.headers[OWN] === own;
    const isAwaited = !isOwn && !path?.endsWith("/events");
    if (!isOwn) askedAt = Date.now();
    if (isAwaited) under++;
    request.headers[FROM] = whenceOf(request, settings);
    cutSlowBodies(request);
    if (!path || !isGit(path)) setPagePolicy(request, response, path ?? "/", dev);
    response.on("close", () => {
      if (!isOwn) askedAt = Date.now();
      if (isAwaited) under--;
      const told = {
        method: request.method,
        path,
        status: response.statusCode,
        ms: Math.round(performance.now() - begun),
      };
      const quiet = isOwn || (path?.startsWith("/_next/") && response.statusCode < 400);
      installation.log[quiet ? "debug" : "info"](told, "request");
    });
    if (path && !isGit(path) && saidNothingThere(request, response, path)) return;
    const answer = path && isGit(path) ? serveGit(installation, request, response) : handle(request, response);
    answer.catch((error: unknown) => {
      installation.log.error({ err: error, path }, "request failed");
      response.destroy();
    });
  });
  const port = await listening(server, settings.port, { alone, anyPort });
  const address = settings.address ?? `http://${alone ? "127.0.0.1" : "localhost"}:${port}`;
  if (told) say(told(address));
  else say(greeting ? greeting(address) : `Earnest Lens is at ${address}, with its data in ${settings.data}.`);
  installation.settings.alone = alone;
  const word = alone ? null : await firstWord(installation);
  if (word !== null)
    say(
      `It is empty. Begin it here, with a word that counts until it is used or the server ends:\n${address}/sign-in#${word}`,
    );
  void installation.workers.warm();
  if (!dev)
    loadAhead(`http://127.0.0.1:${port}`, own, () => isQuiet(QUIET.loading)).catch((error: unknown) =>
      installation.log.debug({ err: error }, "not loaded ahead"),
    );
  const mail = await startMail(installation, address);
  const eventHandlers = new EventHandlers(installation);
  eventHandlers.start();
  const notices = new Notices(installation);
  notices.start();
  const deliveries = new Deliveries(installation, { address, within: settings.hooksWithin });
  deliveries.start();
  const ledgers = new Ledgers(installation);
  ledgers.start();
  const neighbours = alone ? null : new Neighbours(installation);
  neighbours?.start();
  const preparing = new Preparing(installation);
  preparing.start();
  const upkeep = alone ? null : startUpkeep(installation, () => isQuiet(QUIET.packing));
  const runner = settings.runner ? new Runner(installation, settings.runner) : null;
  runner?.start();
  const signal = await new Promise<string>((resolve) => {
    for (const name of ["SIGINT", "SIGTERM"]) process.once(name, () => resolve(name));
  });
  installation.log.info({ signal }, "ending");
  server.close();
  server.closeAllConnections();
  await runner?.stop();
  await preparing.stop();
  await notices.stop();
  await neighbours?.stop();
  await ledgers.stop();
  await deliveries.stop();
  await eventHandlers.stop();
  await upkeep?.stop();
  await mail?.stop();
  await pages.close();
  await installation.close();
  held.release();
  process.exit(0);
}
