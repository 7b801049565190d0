import type { Outcome } from "@/core/plain/outcome";
import { personOfSession, sessionCookie } from "../../access/sessions";
import type { AppContext } from "../context";
import { bySecureWay, jsonAnswer } from "./http";

/** A request that begins or ends a session. */
interface Arriving {
  request: Request;
  app: AppContext;
  from: string;
}

/** From where somebody comes, as their sessions tell it: the network address, and what the browser calls itself. */
export function whenceOf({ request, from }: Arriving): { address: string; agent: string } {
  return { address: from, agent: request.headers.get("user-agent") ?? "" };
}

/** The answer to who has come in, by whichever way: the session in a cookie, and who that is; or why not. */
export async function arrivalAnswer(asked: Arriving, session: Outcome<string>): Promise<Outcome<never> | Response> {
  if (!session.ok) return session;
  const person = await personOfSession(asked.app, session.value);
  return sessionAnswer(asked, session.value, { id: person?.id ?? "" });
}

/** An answer that puts a session into the browser, null takes it out; with a body where it has one. */
export function sessionAnswer({ request, app }: Arriving, session: string | null, body?: object): Response {
  const cookie = sessionCookie(session, bySecureWay(request, app.settings.address));
  if (!body) return new Response(null, { status: 204, headers: { "set-cookie": cookie } });
  return jsonAnswer(body, { headers: { "set-cookie": cookie } });
}
