import { type JsonSchema, toJsonSchema } from "@valibot/to-json-schema";
import type { GenericSchema } from "valibot";
import { groupedBy } from "../../plain/grouped";
import { REFUSALS } from "../../plain/outcome";
import { type Content, type Endpoint, isContent, refusalsOf, type Who } from "./endpoint";
import { refusalAnswer } from "./shapes";
import { ENDPOINTS, type EndpointName } from "./table";

/** What a document of OpenAPI 3.1 is made of, as far as ours needs it. See the OpenAPI Specification 3.1.0, section 4. */
export interface OpenApi {
  openapi: "3.1.0";
  info: { title: string; version: string; description: string };
  servers: { url: string }[];
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, JsonSchema>; securitySchemes: Record<string, object> };
}

interface Operation {
  operationId: string;
  summary: string;
  security: Record<string, never[]>[];
  parameters: { name: string; in: "path" | "query"; required: boolean; schema: JsonSchema | boolean }[];
  requestBody?: { required: true; content: Media };
  responses: Record<string, { description: string; content?: Media }>;
}

type Media = Record<string, { schema: JsonSchema | { $ref: string } }>;

const SECURITY: Record<Who, Record<string, never[]>[]> = {
  everyone: [],
  "signed-in": [{ session: [] }, { token: [] }],
  "in-browser": [{ session: [] }],
  administrators: [{ session: [] }],
};

/**
 * The table of endpoints as a document of OpenAPI 3.1. `version` is that of the application.
 *
 * @example openApi("1.0.0").paths["/api/health"].get.responses["200"].description // "Done."
 */
export function openApi(version: string): OpenApi {
  const paths: OpenApi["paths"] = {};
  for (const [name, endpoint] of Object.entries(ENDPOINTS) as [EndpointName, Endpoint][]) {
    const [method, path] = name.split(" ");
    paths[path] = { ...paths[path], [method.toLowerCase()]: operationOf(name, endpoint) };
  }
  return {
    openapi: "3.1.0",
    info: {
      title: "Earnest Lens",
      version,
      description:
        "Everything the pages of Earnest Lens ask of their server. Sign in with a personal token in the header Authorization: Bearer TOKEN. Whatever is refused is answered with a code and a sentence for the person.",
    },
    servers: [{ url: "/" }],
    paths,
    components: {
      schemas: { Refusal: schemaOf(refusalAnswer, "output") },
      securitySchemes: {
        token: { type: "http", scheme: "bearer" },
        session: { type: "apiKey", in: "cookie", name: "lens_session" },
      },
    },
  };
}

function operationOf(name: EndpointName, endpoint: Endpoint): Operation {
  const { who, does, body, answer, status } = endpoint;
  const made = status ?? (answer === null ? 204 : 200);
  const responses: Operation["responses"] = {
    [made]: answer === null ? { description: "Done." } : { description: "Done.", content: mediaOf(answer, "output") },
  };
  const byStatus = groupedBy(refusalsOf(name, endpoint), (code) => REFUSALS[code]);
  for (const [refusal, codes] of byStatus)
    responses[refusal] = {
      description: `Refused: ${codes.join(" or ")}.`,
      content: { "application/json": { schema: { $ref: "#/components/schemas/Refusal" } } },
    };
  return {
    operationId: name
      .replace(/[^A-Za-z]+/g, "-")
      .replace(/-$/, "")
      .toLowerCase(),
    summary: does,
    security: SECURITY[who],
    parameters: [...partsOf(name), ...queryOf(endpoint.query)],
    ...(body ? { requestBody: { required: true as const, content: mediaOf(body, "input") } } : {}),
    responses,
  };
}

function partsOf(name: string): Operation["parameters"] {
  return [...name.matchAll(/\{(\w+)\}/g)].map(([, part]) => ({
    name: part,
    in: "path",
    required: true,
    schema: { type: "string" },
  }));
}

function queryOf(query: GenericSchema | undefined): Operation["parameters"] {
  if (!query) return [];
  const { properties = {}, required = [] } = schemaOf(query, "input");
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: "query",
    required: required.includes(name),
    schema,
  }));
}

function mediaOf(what: GenericSchema | Content, typeMode: "input" | "output"): Media {
  if (isContent(what)) return { [what.type]: { schema: { type: "string", description: what.holds } } };
  return { "application/json": { schema: schemaOf(what, typeMode) } };
}

/** What JSON Schema cannot say, such as that a pattern is one that can be matched fast, is left out. */
function schemaOf(schema: GenericSchema, typeMode: "input" | "output"): JsonSchema {
  const { $schema: _, ...made } = toJsonSchema(schema, { typeMode, errorMode: "ignore" });
  return made;
}

/** What has to be given, in short: names of the query (those in brackets may be left out), and what the body is. */
export function inputsOf({ query, body }: Endpoint): { query: string[]; body: string | null } {
  const names = queryOf(query).map(({ name, required }) => (required ? name : `[${name}]`));
  if (!body) return { query: names, body: null };
  return { query: names, body: isContent(body) ? `${body.type}: ${body.holds}` : inShort(schemaOf(body, "input")) };
}

/** A shape of JSON in one line. */
function inShort(schema: JsonSchema | boolean): string {
  if (typeof schema === "boolean") return "anything";
  const { properties, required = [], anyOf, allOf, items, type, const: only } = schema;
  const choices = schema.enum;
  if (only !== undefined) return JSON.stringify(only);
  if (choices) return choices.map((choice) => JSON.stringify(choice)).join(" | ");
  if (allOf) return allOf.map(inShort).join(" & ");
  if (anyOf ?? schema.oneOf) return (anyOf ?? schema.oneOf ?? []).map(inShort).join(" | ");
  if (properties)
    return `{ ${Object.entries(properties)
      .map(([name, of]) => `${name}${required.includes(name) ? "" : "?"}: ${inShort(of)}`)
      .join(", ")} }`;
  if (type === "array") return `[${items === undefined || Array.isArray(items) ? "…" : inShort(items)}]`;
  return typeof type === "string" ? type : "anything";
}
