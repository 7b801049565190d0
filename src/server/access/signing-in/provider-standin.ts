import { createHash, generateKeyPairSync, randomBytes, sign } from "node:crypto";
import { createServer, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";

/** Who somebody is, as a provider tells it. */
export interface Claims {
  sub: string;
  email?: string;
  email_verified?: boolean;
  name?: string;
}

/**
 * A provider for trying things out, on this machine alone: whoever comes is the person that it was told of, without being asked anything; or says which of
 * some people they are.
 */
export interface ProviderStandIn {
  issuer: string;
  /** Who comes next; null refuses them, unless there are people to choose from. */
  person: Claims | null;
  close: () => Promise<void>;
}

interface Given {
  claims: Claims;
  nonce: string;
  challenge: string;
  redirect: string;
}

export async function startProviderStandIn(
  client: { id: string; secret: string },
  { port = 0, people = [] }: { port?: number; people?: readonly Claims[] } = {},
): Promise<ProviderStandIn> {
  const { privateKey, publicKey } = generateKeyPairSync("rsa", { modulusLength: 2048 });
  const jwk = { ...publicKey.export({ format: "jwk" }), kid: "one", use: "sig", alg: "RS256" };
  const codes = new Map<string, Given>();
  const standIn: ProviderStandIn = {
    issuer: "",
    person: null,
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
  const encoded = (value: object) => Buffer.from(JSON.stringify(value)).toString("base64url");
  const tokenFor = ({ claims, nonce }: Given) => {
    const now = Math.floor(Date.now() / 1000);
    const head = encoded({ alg: "RS256", kid: "one", typ: "JWT" });
    const body = encoded({ ...claims, iss: standIn.issuer, aud: client.id, nonce, iat: now, exp: now + 300 });
    const signature = sign("sha256", Buffer.from(`${head}.${body}`), privateKey).toString("base64url");
    return `${head}.${body}.${signature}`;
  };
  /** The answer to a code: once, and for who asked for it. */
  const redeem = (form: URLSearchParams, authorization: string): object | null => {
    const given = codes.get(form.get("code") ?? "");
    codes.delete(form.get("code") ?? "");
    const said = Buffer.from(authorization.replace(/^Basic /, ""), "base64").toString();
    // Both are encoded as in a form (RFC 6749).
    const parts = said.split(":").map((part) => decodeURIComponent(part.replaceAll("+", " ")));
    const isClient = parts.length === 2 && parts[0] === client.id && parts[1] === client.secret;
    const challenge = createHash("sha256")
      .update(form.get("code_verifier") ?? "")
      .digest("base64url");
    if (!given || !isClient || challenge !== given.challenge) return null;
    if (form.get("redirect_uri") !== given.redirect) return null;
    return { access_token: randomBytes(12).toString("hex"), token_type: "Bearer", id_token: tokenFor(given) };
  };
  const server = createServer(async (request, response) => {
    const url = new URL(request.url ?? "/", standIn.issuer);
    const json = (value: object, status = 200) => {
      response.writeHead(status, { "content-type": "application/json" }).end(JSON.stringify(value));
    };
    if (url.pathname === "/.well-known/openid-configuration")
      return json({
        issuer: standIn.issuer,
        authorization_endpoint: `${standIn.issuer}/authorize`,
        token_endpoint: `${standIn.issuer}/token`,
        jwks_uri: `${standIn.issuer}/keys`,
        response_types_supported: ["code"],
        subject_types_supported: ["public"],
        id_token_signing_alg_values_supported: ["RS256"],
        code_challenge_methods_supported: ["S256"],
      });
    if (url.pathname === "/keys") return json({ keys: [jwk] });
    if (url.pathname === "/token") {
      const answer = redeem(new URLSearchParams(await bodyOf(request)), request.headers.authorization ?? "");
      return answer ? json(answer) : json({ error: "invalid_grant" }, 400);
    }
    if (url.pathname !== "/authorize") return json({}, 404);
    const asked = (name: string) => url.searchParams.get(name) ?? "";
    const person = standIn.person ?? people.find(({ sub }) => sub === asked("as")) ?? null;
    if (!person && people.length > 0) {
      response.writeHead(200, { "content-type": "text/html; charset=utf-8" }).end(chooser(people, url));
      return;
    }
    const back = new URL(asked("redirect_uri"));
    back.searchParams.set("state", asked("state"));
    if (person) {
      const code = randomBytes(12).toString("hex");
      const given = { nonce: asked("nonce"), challenge: asked("code_challenge"), redirect: asked("redirect_uri") };
      codes.set(code, { claims: person, ...given });
      back.searchParams.set("code", code);
    } else back.searchParams.set("error", "access_denied");
    response.writeHead(302, { location: back.href }).end();
  });
  await new Promise<void>((resolve) => server.listen(port, "127.0.0.1", resolve));
  standIn.issuer = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return standIn;
}

/** A page on which one says who one is. The people are made up, and their names are plain. */
function chooser(people: readonly Claims[], url: URL): string {
  const links = people.map(({ sub, name }) => {
    const to = new URL(url);
    to.searchParams.set("as", sub);
    return `<li><a href="${to.href.replaceAll("&", "&amp;").replaceAll('"', "%22")}">${name ?? sub}</a></li>`;
  });
  return `<!doctype html><html lang="en"><title>Who are you?</title><h1>Who are you?</h1><ul>${links.join("")}</ul></html>`;
}

async function bodyOf(request: IncomingMessage): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString("utf8");
}
