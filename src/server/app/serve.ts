import type * as v from "valibot";
import { type Content, type Endpoint, isContent } from "@/core/doors/endpoints/endpoint";
import { type Answer, ENDPOINTS, type EndpointName, type ReadOf } from "@/core/doors/endpoints/table";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { listed } from "@/core/plain/words";
import type { Doer } from "../access/audit";
import type { Person } from "../access/person";
import { COOKIE, personOfSession } from "../access/sessions";
import { bearerOf } from "../access/tokens";
import { FROM } from "../access/whence";
import { type AppContext, app } from "./context";
import { answer, checked, cookieOf, forbiddenElsewhere, guardedAnswer, jsonOf, refused } from "./http/http";
import { troubleOf } from "./trouble";

/** What a handler is given: what was asked, in the shape that the table says, and the installation. */
export type Asked<K extends EndpointName> = ReadOf<K> & {
  request: Request;
  url: URL;
  app: AppContext;
  /** The network address that it came from. */
  from: string;
} & ((typeof ENDPOINTS)[K]["who"] extends "everyone" ? unknown : Asker);

/** Who asks. */
export interface Asker {
  person: Person;
  /** The same and from where, for the audit log. */
  doer: Doer;
}

/** How Next calls a route handler. */
export type Route = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

/**
 * A route for an endpoint of the table. Who asks and from where is known before anything of the request is read; then its query and its
 * body are held against their shapes. The handler gives the value of the answer, or a refusal; or a response of its own where that is no
 * plain JSON. What goes wrong unforeseen is logged whole and answered with a sentence.
 */
export function serve<K extends EndpointName>(
  name: K,
  handler: (asked: Asked<K>) => Promise<Outcome<Answer<K>> | Response>,
): Route {
  const endpoint: Endpoint = ENDPOINTS[name];
  return async (request, context) => guardedAnswer(await answerTo(request, await context.params));

  async function answerTo(request: Request, parts: Record<string, string>): Promise<Response> {
    const installation = await app();
    const url = new URL(request.url);
    try {
      const foreign = forbiddenElsewhere(request, installation.settings.address);
      if (foreign) return refused(foreign);
      const from = request.headers.get(FROM) ?? "";
      const asker = await ASKERS[endpoint.who](installation, request, from);
      if (!asker.ok) return refused(asker.refusal);
      const query = endpoint.query ? checked(endpoint.query, queryOf(url)) : done(undefined);
      if (!query.ok) return refused(query.refusal);
      const body = await bodyOf(endpoint.body, request);
      if (!body.ok) return refused(body.refusal);
      const given = { request, url, parts, app: installation, from, ...asker.value };
      const made = await handler({ ...given, query: query.value, body: body.value } as unknown as Asked<K>);
      if (made instanceof Response) return made;
      return made.ok ? answerOf(endpoint, made.value) : refused(made.refusal);
    } catch (error) {
      const known = troubleOf(error);
      if (known) {
        installation.log.error({ err: error, method: request.method, path: url.pathname }, known);
        return refused({ code: "unavailable", reason: known });
      }
      const reference = installation.newId();
      installation.log.error({ err: error, reference, method: request.method, path: url.pathname }, "request failed");
      return refused({
        code: "internal",
        reason: `Something went wrong here. The server’s log has it under ${reference}.`,
      });
    }
  }
}

/** The first of each name: nothing here is asked for twice. */
function queryOf({ searchParams }: URL): Record<string, string> {
  return Object.fromEntries([...searchParams].reverse());
}

/** What is no JSON is read by the handler, who knows how much of it is right. */
function bodyOf(schema: v.GenericSchema | Content | undefined, request: Request): Promise<Outcome<unknown>> {
  if (!schema || isContent(schema)) return Promise.resolve(done(undefined));
  return jsonOf(request, schema);
}

function answerOf({ answer: schema, status }: Endpoint, value: unknown): Response {
  if (schema === null) return new Response(null, { status: 204 });
  return answer(done(value), status);
}

/** Who asks, by a session or a token: to know whether they still may. */
export async function askerOf(installation: AppContext, request: Request, address: string): Promise<Outcome<Asker>> {
  const person = await personOfSession(installation, cookieOf(request, COOKIE));
  if (person) return done({ person, doer: { person: person.id, address } });
  const bearer = await bearerOf(installation, request.headers.get("authorization"));
  if (!bearer) return refuse("unauthenticated", "Sign in first.");
  const needed = request.method === "GET" || request.method === "HEAD" ? "read" : "write";
  if (!bearer.scopes.includes(needed))
    return refuse("forbidden", `This token may not ${needed}: it is for ${listed(bearer.scopes)}.`);
  return done({ person: bearer.person, doer: { person: bearer.person.id, address } });
}

type Ask = (installation: AppContext, request: Request, from: string) => Promise<Outcome<Asker | Record<never, never>>>;

/** Who may ask, by what the table says. */
const ASKERS: Record<Endpoint["who"], Ask> = {
  everyone: async () => done({}),
  "signed-in": (installation, request, from) => askerOf(installation, request, from),
  /** What a token must not do, such as making others. */
  "in-browser": async (installation, request, address) => {
    const person = await personOfSession(installation, cookieOf(request, COOKIE));
    if (person) return done({ person, doer: { person: person.id, address } });
    return (await bearerOf(installation, request.headers.get("authorization")))
      ? refuse("forbidden", "A token cannot do this: sign in with your password.")
      : refuse("unauthenticated", "Sign in first.");
  },
  /** Others are told the same as if it did not exist. */
  administrators: async (installation, request, from) => {
    const asker = await ASKERS["in-browser"](installation, request, from);
    if (!asker.ok || ("person" in asker.value && asker.value.person.administrator)) return asker;
    return refuse("missing", "There is nothing here that you may see.");
  },
};
