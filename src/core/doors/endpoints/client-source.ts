import type { JsonSchema } from "@valibot/to-json-schema";
import { type OpenApi, openApi } from "./openapi";

/**
 * A client in TypeScript for programs of others, made from the document of OpenAPI: one file that needs nothing else, with the type of every request and
 * answer. `version` is that of the application.
 *
 * @example clientSource("1.0.0").includes('"GET /api/health": {') // true
 */
export function clientSource(version: string): string {
  const { paths } = openApi(version);
  const rows = Object.entries(paths).flatMap(([path, operations]) =>
    Object.entries(operations).map(([method, operation]) => rowOf(`${method.toUpperCase()} ${path}`, operation)),
  );
  return `${HEAD.replace("VERSION", version)}\nexport interface Endpoints {\n${rows.join("\n")}\n}\n${BODY}`;
}

type Operation = OpenApi["paths"][string][string];

function rowOf(name: string, { summary, parameters, requestBody, responses }: Operation): string {
  const given = (where: "path" | "query") =>
    parameters
      .filter((parameter) => parameter.in === where)
      .map((one) => `${key(one.name)}${one.required ? "" : "?"}: ${where === "path" ? "string" : typeOf(one.schema)}`);
  const done = Object.entries(responses).find(([status]) => /^[23]/.test(status))?.[1];
  const fields = [
    ["parts", objectOf(given("path"))],
    ["query", objectOf(given("query"))],
    ["body", requestBody ? contentOf(requestBody.content, "Blob | Uint8Array<ArrayBuffer> | string") : "undefined"],
    ["answer", done?.content ? contentOf(done.content, "Response") : "null"],
  ];
  const types = fields.map(([field, type]) => `    ${field}: ${type};`);
  return [`  /** ${commented(summary)} */`, `  ${JSON.stringify(name)}: {`, ...types, "  };"].join("\n");
}

function objectOf(fields: readonly string[]): string {
  return fields.length === 0 ? "undefined" : `{ ${fields.join("; ")} }`;
}

/** The type of a body: of its JSON, or what stands for bytes. */
function contentOf(content: NonNullable<Operation["requestBody"]>["content"], bytes: string): string {
  const json = content["application/json"]?.schema;
  return json ? ("$ref" in json ? "unknown" : typeOf(json)) : bytes;
}

const SIMPLE: Record<string, string> = { string: "string", number: "number", integer: "number", boolean: "boolean" };

/** A shape of JSON as a type of TypeScript. What a schema says beyond shapes, such as the longest text, is left to the server. */
function typeOf(schema: JsonSchema | boolean): string {
  if (typeof schema === "boolean") return "unknown";
  const { type, properties, required = [], additionalProperties, items, prefixItems, allOf } = schema;
  const choices = schema.anyOf ?? schema.oneOf;
  if (schema.const !== undefined) return JSON.stringify(schema.const);
  if (schema.enum) return join(schema.enum.map((one) => JSON.stringify(one)));
  if (allOf) return allOf.map((one) => `(${typeOf(one)})`).join(" & ");
  if (choices) return join(choices.map(typeOf));
  if (properties)
    return `{ ${Object.entries(properties)
      .map(([name, of]) => `${key(name)}${required.includes(name) ? "" : "?"}: ${typeOf(of)}`)
      .join("; ")} }`;
  if (type === "object")
    return `Record<string, ${additionalProperties === undefined ? "unknown" : typeOf(additionalProperties)}>`;
  if (prefixItems) return `[${prefixItems.map(typeOf).join(", ")}]`;
  if (type === "array") return `(${items === undefined || Array.isArray(items) ? "unknown" : typeOf(items)})[]`;
  if (type === "null") return "null";
  return typeof type === "string" ? (SIMPLE[type] ?? "unknown") : "unknown";
}

function join(types: readonly string[]): string {
  return types.length === 0 ? "never" : [...new Set(types)].join(" | ");
}

function key(name: string): string {
  return /^[A-Za-z_]\w*$/.test(name) ? name : JSON.stringify(name);
}

function commented(words: string): string {
  return words.replaceAll("*/", "* /");
}

const HEAD = `// A client of Earnest Lens VERSION, made from its document of OpenAPI. Fetch it anew after an upgrade.
//
//   const lens = lensClient({ address: "https://lens.example.org", token: process.env.LENS_TOKEN });
//   const desk = await lens.ask("GET /api/changes", {});
//   for await (const event of lens.events()) console.log(event);
`;

const BODY = `
export type EndpointName = keyof Endpoints;
export type Answer<Name extends EndpointName> = Endpoints[Name]["answer"];

type Part = "parts" | "query" | "body";
type Needed<Name extends EndpointName> = {
  [K in Part]: Endpoints[Name][K] extends undefined ? never : {} extends Endpoints[Name][K] ? never : K;
}[Part];

/** What has to be given for an endpoint, and what can be. */
export type Given<Name extends EndpointName> = Pick<Endpoints[Name], Needed<Name>> &
  Partial<Omit<Pick<Endpoints[Name], Part>, Needed<Name>>>;

export interface ClientOptions {
  /** Where the server is reached, such as https://lens.example.org. */
  address: string;
  /** A personal token; without one only what anyone may ask is answered. */
  token?: string;
  fetch?: typeof fetch;
}

/** What the server refused: \`code\` is for programs, the message a sentence for the person. */
export class Refused extends Error {
  constructor(
    readonly code: string,
    reason: string,
    readonly status: number,
  ) {
    super(reason);
    this.name = "Refused";
  }
}

/** An event as webhooks are sent it, with its id. */
export interface StreamedEvent {
  id: string;
  data: unknown;
}

/** Asks a server of Earnest Lens. Whatever it refuses is thrown as {@link Refused}. */
export function lensClient({ address, token, fetch: ask = fetch }: ClientOptions) {
  const headers: Record<string, string> = token ? { authorization: \`Bearer \${token}\` } : {};

  async function send(
    name: string,
    given: { parts?: Record<string, string>; query?: Record<string, unknown>; body?: unknown },
    more: { headers?: Record<string, string>; signal?: AbortSignal } = {},
  ): Promise<Response> {
    const [method, path] = name.split(" ");
    const url = new URL(path.replace(/\\{(\\w+)\\}/g, (_, part) => encodeURIComponent(given.parts?.[part] ?? "")), address);
    for (const [key, value] of Object.entries(given.query ?? {}))
      if (value !== undefined) url.searchParams.set(key, String(value));
    const { body } = given;
    const isBytes = typeof body === "string" || body instanceof Uint8Array || body instanceof Blob;
    const response = await ask(url, {
      method,
      headers: {
        ...headers,
        ...(body === undefined || isBytes ? {} : { "content-type": "application/json" }),
        ...more.headers,
      },
      ...(body === undefined ? {} : { body: isBytes ? (body as Blob) : JSON.stringify(body) }),
      ...(more.signal ? { signal: more.signal } : {}),
    });
    if (response.ok) return response;
    const said = await response.json().catch(() => null);
    const { code = "internal", reason = \`The server answered \${response.status}.\` } = said?.refusal ?? {};
    throw new Refused(code, reason, response.status);
  }

  return {
    async ask<Name extends EndpointName>(name: Name, given: Given<Name>): Promise<Answer<Name>> {
      const response = await send(name, given);
      if (response.status === 204) return null as Answer<Name>;
      const type = response.headers.get("content-type") ?? "";
      return (type.startsWith("application/json") ? await response.json() : response) as Answer<Name>;
    },

    /**
     * Events of all repositories that the token may see, in order, from behind the one with the id \`after\` on, or from now on. A connection that breaks is made
     * anew from where it was; ends when \`signal\` says so.
     */
    async *events({ after, signal }: { after?: string; signal?: AbortSignal } = {}): AsyncGenerator<StreamedEvent> {
      let last = after;
      let wait = 500;
      while (!signal?.aborted) {
        try {
          const query = last === undefined ? {} : { after: last };
          const { body } = await send("GET /api/events", { query }, { signal });
          let rest = "";
          for await (const chunk of body!.pipeThrough(new TextDecoderStream()) as unknown as AsyncIterable<string>) {
            rest += chunk;
            for (let end = rest.indexOf("\\n\\n"); end >= 0; end = rest.indexOf("\\n\\n")) {
              const lines = rest.slice(0, end).split("\\n");
              rest = rest.slice(end + 2);
              const field = (name: string) =>
                lines.filter((line) => line.startsWith(\`\${name}: \`)).map((line) => line.slice(name.length + 2));
              const [id] = field("id");
              if (id === undefined) continue;
              last = id;
              wait = 500;
              yield { id, data: JSON.parse(field("data").join("\\n")) };
            }
          }
        } catch (error) {
          if (signal?.aborted) return;
          // What is refused is refused again; a connection is not.
          if (error instanceof Refused && error.status < 500 && error.status !== 429) throw error;
        }
        await new Promise((resolve) => setTimeout(resolve, wait));
        wait = Math.min(30_000, 2 * wait);
      }
    },
  };
}
`;
