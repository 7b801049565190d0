import type { Route } from "@/server/app/serve";
import { need, Stop } from "../stop";
import { cloneHere } from "./clone-here";

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

/** Opens the clone in whose top folder this runs. */
export async function openInside(top: string): Promise<Inside> {
  process.env.INIT_CWD = top;
  const clone = await cloneHere();
  process.env.LENS_DATA = clone.data;
  process.env.LENS_LOG = "error";
  delete process.env.PORT;
  const [backstage, { ROUTES }] = await Promise.all([import("../keeping/backstage"), import("virtual:routes")]);
  const { adoptClone, beginSession, endSession, app } = backstage;
  const installation = await app();
  installation.settings.alone = true;
  const { person } = need(await adoptClone(installation, clone.repository, clone.owner));
  // Of this process alone: whoever serves the clone, or is about to, keeps theirs.
  const session = await beginSession(installation, person.id, { address: "127.0.0.1", agent: "a command" });
  // What follows from an entry of the log, and is done by a server otherwise: what merges by itself, news, and the ledger last of all.
  const followers = [
    new backstage.EventHandlers(installation),
    new backstage.Notices(installation),
    new backstage.Ledgers(installation),
  ];
  const follow = async () => {
    for (const one of followers) await one.step();
  };
  let held: { release: () => void } | null = null;
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
      const hold = backstage.holdFolder(clone.data, 0);
      if (!hold.ok) return false;
      held = hold.value;
      await backstage.settleIntents(installation);
      // From here on they know where they are in the log.
      await follow();
      return true;
    },
    close: async () => {
      try {
        if (held) await follow();
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
