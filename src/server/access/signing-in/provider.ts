import * as client from "openid-client";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { AppContext } from "../../app/context";
import { shelf } from "../../app/kept";
import { audit } from "../audit";
import { beginSession, type Whence } from "../sessions";

/** Signing in through a provider that speaks OpenID Connect: the authorization code flow with PKCE. */

/** What has to be the same when somebody comes back. The browser keeps it meanwhile. */
export interface Leaving {
  state: string;
  nonce: string;
  verifier: string;
  /** The path of ours to go on to. */
  next: string;
}

/** Where the provider sends people back to. */
const BACK = "/api/sign-in/provider/back";
/** What it says is asked for anew so often, in milliseconds. */
const ANEW = 3_600_000;

/** The address of the provider to go to, and what is to be kept until they come back. `address` is our own, as the visitor sees it. */
export async function leaveFor(
  app: AppContext,
  address: string,
  next: string,
): Promise<Outcome<{ to: string; leaving: Leaving }>> {
  const provider = await configuration(app);
  if (!provider.ok) return provider;
  const [state, nonce, verifier] = [client.randomState(), client.randomNonce(), client.randomPKCECodeVerifier()];
  const to = client.buildAuthorizationUrl(provider.value, {
    redirect_uri: `${address}${BACK}`,
    scope: "openid email profile",
    state,
    nonce,
    code_challenge: await client.calculatePKCECodeChallenge(verifier),
    code_challenge_method: "S256",
  });
  return done({ to: to.href, leaving: { state, nonce, verifier, next } });
}

/** Why somebody who comes back from the provider is not let in: told on the page for signing in. */
export type NotIn = "unknown" | "failed" | "away";

/**
 * Begins a session for who comes back from the provider with `search`, the query of the address. They are known by what the provider calls them;
 * the first time by their mail address, where the provider says that it is theirs and it is that of one person here.
 */
export async function comeBack(
  app: AppContext,
  address: string,
  search: string,
  { state, nonce, verifier }: Leaving,
  whence: Whence,
): Promise<{ session: string } | { not: NotIn }> {
  const provider = await configuration(app);
  if (!provider.ok) return { not: "away" };
  let claims: client.IDToken | undefined;
  try {
    const tokens = await client.authorizationCodeGrant(provider.value, new URL(`${address}${BACK}${search}`), {
      pkceCodeVerifier: verifier,
      expectedState: state,
      expectedNonce: nonce,
      idTokenExpected: true,
    });
    claims = tokens.claims();
  } catch (error) {
    app.log.warn({ err: error }, "signing in through the provider failed");
    return { not: "failed" };
  }
  if (!claims) return { not: "failed" };
  const person = await personOf(app, claims);
  const doer = { person: person?.id ?? null, address: whence.address };
  if (!person) {
    await audit(app, doer, "sign-in-refused", { name: String(claims.email ?? claims.sub).slice(0, 100) });
    return { not: "unknown" };
  }
  await audit(app, doer, "signed-in", { name: person.name });
  return { session: await beginSession(app, person.id, whence) };
}

/** Whom the provider means; null where that is nobody who may sign in here. */
async function personOf(
  app: AppContext,
  { iss, sub, email, email_verified }: client.IDToken,
): Promise<{ id: string; name: string } | null> {
  const known = await app.db
    .selectFrom("identities")
    .innerJoin("people", "people.id", "identities.person")
    .select(["people.id", "people.name", "people.disabled_at"])
    .where("issuer", "=", iss)
    .where("subject", "=", sub)
    .executeTakeFirst();
  if (known) return known.disabled_at === null ? known : null;
  if (typeof email !== "string" || email_verified !== true) return null;
  const people = await app.db
    .selectFrom("people")
    .select(["id", "name", "disabled_at"])
    .where((eb) => eb(eb.fn<string>("lower", ["email"]), "=", email.toLowerCase()))
    .where("machine", "=", 0)
    .execute();
  const [person] = people;
  // An address that two share says of neither who comes.
  if (people.length !== 1 || person.disabled_at !== null) return null;
  await app.db
    .insertInto("identities")
    .values({ issuer: iss, subject: sub, person: person.id })
    .onConflict((conflict) => conflict.doNothing())
    .execute();
  return person;
}

const PROVIDER = shelf<{ at: number; asked: client.Configuration }>("provider", 1);

/** What the provider says of itself. */
async function configuration(app: AppContext): Promise<Outcome<client.Configuration>> {
  const { provider } = app.settings;
  if (!provider) return refuse("missing", "No provider is set up here.");
  const answers = PROVIDER(app);
  const ask = async () => {
    // One that is reached without TLS has to be on this machine; the settings hold it to that.
    const options = provider.issuer.startsWith("http:") ? { execute: [client.allowInsecureRequests] } : undefined;
    const asked = await client.discovery(
      new URL(provider.issuer),
      provider.client,
      undefined,
      client.ClientSecretBasic(provider.secret),
      { ...options, timeout: 10 },
    );
    return { at: app.now(), asked };
  };
  try {
    const kept = await answers.get("", ask);
    if (app.now() - kept.at < ANEW) return done(kept.asked);
    answers.forget("");
    return done((await answers.get("", ask)).asked);
  } catch (error) {
    answers.forget("");
    app.log.warn({ err: error }, "the provider for signing in cannot be reached");
    return refuse("unavailable", `${provider.name} cannot be reached just now.`);
  }
}
