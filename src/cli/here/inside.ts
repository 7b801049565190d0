import type { Route } from "@/server/app/serve";
import { need, Stop } from "../stop";
import { cloneHere } from "./clone-here";

/** A clone that is read by this very process: its routes are asked as a server would ask them, with nothing listening. */
export interface Inside {
  repository: string;
  /** What the route at a path of the API, with its query, answers to a read. */
  read: (path: string) => Promise<Response>;
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
  const [{ adoptClone, beginSession, endSession, app }, { ROUTES }] = await Promise.all([
    import("../keeping/backstage"),
    import("virtual:routes"),
  ]);
  const installation = await app();
  installation.settings.alone = true;
  const { person } = need(await adoptClone(installation, clone.repository, clone.owner));
  // Of this process alone: whoever serves the clone, or is about to, keeps theirs.
  const session = await beginSession(installation, person.id, { address: "127.0.0.1", agent: "a command" });
  return {
    repository: clone.repository.name,
    read: async (path) => {
      const url = new URL(path, ADDRESS);
      const { load, params } = routeAt(ROUTES, url.pathname);
      return (await load()).GET(new Request(url, { headers: { cookie: `lens_session=${session}` } }), {
        params: Promise.resolve(params),
      });
    },
    close: async () => {
      await endSession(installation, session);
      await installation.close();
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
