import type { Route } from "@/server/app/serve";
import { need, Stop } from "../stop";
import { cloneAt } from "./clone-here";

/** A clone that is asked in this very process: its routes answer as a server would, with nothing listening. */
export interface Inside {
  repository: string;
  /** What the route at a path of the API, with its query, answers. */
  ask: (path: string, init: RequestInit) => Promise<Response>;
  /** Has to be called before anything but a read is asked. False where somebody serves the clone, or is about to: they are to be asked. */
  mayWrite: () => Promise<boolean>;
  close: () => Promise<void>;
}

/** No port is listened on; addresses need one all the same. */
const ADDRESS = "http://127.0.0.1";

/** Opens a clone by its top folder and its `.git`. */
export async function openInside(top: string, gitFolder: string): Promise<Inside> {
  process.env.INIT_CWD = top;
  // The code comes while git is asked.
  const code = Promise.all([import("./house"), import("virtual:routes")]);
  const clone = await cloneAt(top, gitFolder);
  process.env.LENS_DATA = clone.data;
  process.env.LENS_LOG = "error";
  delete process.env.PORT;
  const [{ adoptClone, app, beginSession, endSession }, { ROUTES }] = await code;
  const installation = await app();
  installation.settings.alone = true;
  const { person } = need(await adoptClone(installation, clone.repository, clone.owner));
  // Of this process alone: whoever serves the clone, or is about to, keeps theirs.
  const session = await beginSession(installation, person.id, { address: "127.0.0.1", agent: "a command" });
  let held: { release: () => void; follow: () => Promise<void> } | null = null;
  return {
    repository: clone.repository.name,
    ask: async (path, init) => {
      const url = new URL(path, ADDRESS);
      const { load, params } = routeAt(ROUTES, url.pathname);
      const headers = { ...(init.headers as Record<string, string>), cookie: `lens_session=${session}` };
      const handler = (await load())[init.method ?? "GET"];
      if (!handler) throw new Stop(`Nothing can be done here at ${path}.`);
      return handler(new Request(url, { ...init, headers }), { params: Promise.resolve(params) });
    },
    mayWrite: async () => {
      if (held) return true;
      const { EventHandlers, holdFolder, Ledgers, Notices, settleIntents } = await import("./followers");
      // Another one may have come first meanwhile.
      if (held) return true;
      const hold = holdFolder(clone.data, 0);
      if (!hold.ok) return false;
      // What follows from an entry of the log, and is done by a server otherwise: what merges by itself, news, and the ledger last of all.
      const followers = [new EventHandlers(installation), new Notices(installation), new Ledgers(installation)];
      const follow = async () => {
        for (const one of followers) await one.step();
      };
      held = { ...hold.value, follow };
      await settleIntents(installation);
      // From here on they know where they are in the log.
      await follow();
      return true;
    },
    close: async () => {
      try {
        await held?.follow();
      } finally {
        held?.release();
        await endSession(installation, session);
        await installation.close();
      }
    },
  };
}

type Load = () => Promise<Record<string, Route>>;

/** The route at a path, and what stands in the place of its parts. What is written out comes before what stands for anything. */
function routeAt(routes: Readonly<Record<string, Load>>, path: string): { load: Load; params: Record<string, string> } {
  const given = path.split("/");
  const fitting = Object.keys(routes).filter((pattern) => {
    const parts = pattern.split("/");
    return parts.length === given.length && parts.every((part, n) => part.startsWith("[") || part === given[n]);
  });
  const open = (pattern: string) => pattern.split("[").length;
  const [pattern] = fitting.sort((a, b) => open(a) - open(b));
  if (pattern === undefined) throw new Stop(`Nothing is known here at ${path}.`);
  const params: Record<string, string> = {};
  for (const [n, part] of pattern.split("/").entries())
    if (part.startsWith("[")) params[part.slice(1, -1)] = decodeURIComponent(given[n]);
  return { load: routes[pattern], params };
}
