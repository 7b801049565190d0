import { readdirSync } from "node:fs";
import { join } from "node:path";
import * as v from "valibot";
import { expect } from "vitest";
import { type Endpoint, isContent } from "@/core/doors/endpoints/endpoint";
import { openApi } from "@/core/doors/endpoints/openapi";
import { refusalAnswer } from "@/core/doors/endpoints/shapes";
import { type Answer, type AskOf, ENDPOINTS, type EndpointName } from "@/core/doors/endpoints/table";
import { COMMAND_LINE } from "@/server/access/audit";
import { firstWord } from "@/server/access/first-start";
import { COOKIE, signIn } from "@/server/access/sessions";
import { makeToken } from "@/server/access/tokens";
import type { Route } from "@/server/app/serve";
import { Bench, value } from "@/server/testing/bench";

export const FOLDER = join(import.meta.dirname, "..", "api");
export const NAMES = Object.keys(ENDPOINTS) as EndpointName[];
export const DOCUMENT = openApi("1.0.0");
const SHARED = globalThis as { [key: symbol]: unknown };

/** An image of one point. */
export const PNG = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
  "base64",
);

interface Given {
  parts?: Record<string, string>;
  query?: Record<string, string>;
  body?: unknown;
}

/** For tests: an installation and all its handlers, asked as programs ask. What is answered is held against the table of endpoints. */
export class Api {
  readonly routes = new Map<string, Route>();
  private readonly headersOf = new Map<string, Record<string, string>>([["nobody", {}]]);
  /** The endpoints that gave an answer. */
  readonly heard = new Set<EndpointName>();
  private constructor(readonly bench: Bench) {}

  /** With an administrator `root`, a keeper `ben` and a contributor `ada` of the repository `quay`, `out` who is in none, and `a reading token`. */
  static async set(): Promise<Api> {
    const api = new Api(await Bench.set());
    await api.begin();
    return api;
  }

  async clear(): Promise<void> {
    delete SHARED[Symbol.for("earnest-lens")];
    await this.bench.clear();
  }

  /** Lets somebody sign in, anew where they had. */
  async enter(name: string): Promise<void> {
    const given = { name, password: "long enough" };
    const session = value(await signIn(this.bench.app, given, { address: "10.0.0.1", agent: "test" }));
    this.headersOf.set(name, { cookie: `${COOKIE}=${session}` });
  }

  private async begin(): Promise<void> {
    for (const file of readdirSync(FOLDER, { recursive: true, encoding: "utf8" })) {
      if (!file.endsWith("route.ts")) continue;
      const path = `/api/${file.slice(0, -"/route.ts".length).replace(/\[(\w+)\]/g, "{$1}")}`;
      const module: Record<string, Route> = await import(join(FOLDER, file));
      for (const method of ["GET", "POST", "PUT", "DELETE", "PATCH", "HEAD", "OPTIONS"])
        if (module[method]) this.routes.set(`${method} ${path}`, module[method]);
    }
    const { bench } = this;
    SHARED[Symbol.for("earnest-lens")] = Promise.resolve(bench.app);
    const text = (last: string) => `export const depth = 1;\n\nexport function fits() {\n  return ${last};\n}\n`;
    const folder = await bench.repository("quay", {
      main: [{ "a.ts": text("true"), "b.txt": "one\n", "dot.png": PNG }],
      pier: [{ "a.ts": text("depth > 2"), "dot.png": Buffer.concat([PNG, Buffer.from([0])]) }],
      jetty: [{ "b.txt": "two\n" }],
      mole: [{ "c.txt": "three\n" }],
    });
    await bench.takeIn("quay", folder);
    const word = (await firstWord(bench.app)) ?? "";
    const admin = { word, name: "root", fullName: "Root", email: "r@x.example", password: "long enough" };
    await this.ask("POST /api/first-start", "nobody", { body: admin });
    await bench.person("ada", { quay: "contributor" });
    await bench.person("ben", { quay: "keeper" });
    await bench.person("out");
    for (const name of ["ada", "ben", "out", "root"]) await this.enter(name);
    const token = value(await makeToken(bench.app, "ben", { label: "x", scopes: ["read"] }, COMMAND_LINE));
    this.headersOf.set("a reading token", { authorization: `Bearer ${token}` });
  }

  async send(name: EndpointName, as: string, { parts = {}, query = {}, body }: Given, headers = {}) {
    const [method, path] = name.split(" ");
    const address = path.replace(/\{(\w+)\}/g, (_, part) => encodeURIComponent(parts[part] ?? "1"));
    const json = body !== undefined && !(body instanceof Uint8Array) && !(body instanceof Blob);
    const request = new Request(`http://lens.example${address}?${new URLSearchParams(query)}`, {
      method,
      headers: { ...this.headersOf.get(as), ...(json ? { "content-type": "application/json" } : {}), ...headers },
      ...(body === undefined ? {} : { body: json ? JSON.stringify(body) : (body as Blob | Uint8Array<ArrayBuffer>) }),
    });
    const response = await this.routes.get(name)!(request, { params: Promise.resolve({ ...parts }) });
    const operation = DOCUMENT.paths[path][method.toLowerCase()];
    // Whatever is answered, the document knows of it.
    expect([name, Object.keys(operation.responses)]).toEqual([name, expect.arrayContaining([String(response.status)])]);
    return response;
  }

  /** Asks and gives the answer, which has the shape that the table says: all of it, and nothing more. */
  async ask<K extends EndpointName>(name: K, as: string, given: AskOf<K>): Promise<Answer<K>> {
    const response = await this.send(name, as, given as Given);
    this.heard.add(name);
    const { answer, status }: Endpoint = ENDPOINTS[name];
    const text = isContent(answer ?? v.null()) ? "" : await response.text();
    expect([name, response.status, response.ok ? "" : text]).toEqual([
      name,
      status ?? (answer === null ? 204 : 200),
      "",
    ]);
    if (answer === null) return null as Answer<K>;
    if (isContent(answer)) {
      await response.body?.cancel();
      expect(response.headers.get("content-type")).toMatch(
        new RegExp(answer.type.replace("*", ".*").replace("+", "\\+")),
      );
      return undefined as unknown as Answer<K>;
    }
    const json: unknown = JSON.parse(text);
    const parsed = v.safeParse(answer, json);
    expect([name, parsed.issues?.map((issue) => `${v.getDotPath(issue)}: ${issue.message}`)]).toEqual([
      name,
      undefined,
    ]);
    expect(parsed.output).toEqual(json);
    return json as Answer<K>;
  }

  async refusal(name: EndpointName, as: string, given: Given = {}, headers = {}): Promise<string> {
    const answer = v.parse(refusalAnswer, await (await this.send(name, as, given, headers)).json());
    expect(answer.refusal.reason).toMatch(/\S/);
    return answer.refusal.code;
  }
}
