import { readdirSync, readFileSync } from "node:fs";
import { join, relative } from "node:path";
import * as v from "valibot";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ASKED_FIRST } from "@/cli/load-ahead";
import type { Endpoint } from "@/core/doors/endpoints/endpoint";
import { ENDPOINTS, type EndpointName } from "@/core/doors/endpoints/table";
import { House } from "./house";

/** Every route of the application, read from its files: one that is added is asked too. */
const ROOT = join(process.env.LENS_ROOT ?? process.cwd(), "src/app/api");
const routes = readdirSync(ROOT, { recursive: true, encoding: "utf8" })
  .filter((path) => path.endsWith("route.ts"))
  .flatMap((path) => {
    const methods = readFileSync(join(ROOT, path), "utf8").matchAll(/^export const (GET|POST|PUT|DELETE)/gm);
    return [...methods].map(([, method]) => ({ method, path: relative(".", path).replace(/\/route\.ts$/, "") }));
  });
/** What anyone may ask: whether the server is well, and to be let in or out. */
const OPEN = new Set([
  ...["health", "openapi.json", "client.ts", "sign-in", "sign-in/demo", "sign-in/provider", "sign-in/provider/back"],
  ...["sign-out", "first-start", "join", "here"],
  // Who asks shows a token in the address, or signs what they say.
  ...["feed", "repos/[repo]/neighbours/[name]/told"],
]);
const closed = routes.filter(({ path }) => !OPEN.has(path));

let house: House;
beforeAll(async () => {
  house = await House.open();
});
afterAll(() => house?.close());

const addressOf = (path: string, repository = "berth-planner") =>
  `${house.address}/api/${path.replace("[repo]", repository).replace("[number]", "3").replace("[id]", "0".repeat(40))}`;
const ask = (method: string, address: string, headers: Record<string, string>) =>
  fetch(address, { method, headers, body: method === "GET" || method === "DELETE" ? undefined : "{}" });

async function cookieOf(name: string): Promise<string> {
  const response = await fetch(`${house.address}/api/sign-in/demo`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ name }),
  });
  return response.headers.get("set-cookie")!.split(";")[0];
}

describe("every route", () => {
  it("is found", () => {
    expect(closed.length).toBeGreaterThan(20);
  });

  it("asks who is there", async () => {
    for (const { method, path } of closed) {
      const wrong: Record<string, string>[] = [
        {},
        { cookie: "lens_session=made-up" },
        { authorization: "Bearer made-up" },
      ];
      for (const credentials of wrong) {
        const response = await ask(method, addressOf(path), { "content-type": "application/json", ...credentials });
        expect(`${method} ${path} ${response.status}`).toBe(`${method} ${path} 401`);
        expect((await response.json()).refusal.reason).toBe("Sign in first.");
      }
    }
  });

  it("that is loaded before anybody asks is there", async () => {
    for (const path of ASKED_FIRST) {
      const { status } = await fetch(`${house.address}${path}`, { redirect: "manual" });
      expect([path, status]).not.toEqual([path, 404]);
    }
  });

  it("carries nothing out that a page of another site asks for, whoever is signed in", async () => {
    const cookie = await cookieOf("mirela");
    for (const { method, path } of routes.filter((route) => route.method !== "GET")) {
      const foreign = { cookie, "content-type": "application/json", origin: "https://elsewhere.example" };
      const response = await ask(method, addressOf(path), foreign);
      expect(`${method} ${path} ${response.status}`).toBe(`${method} ${path} 403`);
      expect((await response.json()).refusal.reason).toMatch(/page of another site/);
    }
  });

  it("tells who has no role in a repository the same as if there were none", async () => {
    // The machine of the demo has a role in one repository, and none in the other.
    const authorization = `Bearer ${await house.lens("person", "token", "gauge")}`;
    const told = async (path: string, repository: string) => {
      const response = await ask("GET", addressOf(path, repository), { authorization });
      const { refusal } = await response.json();
      return [response.status, refusal?.reason.replaceAll(repository, "it")];
    };
    for (const { path } of closed.filter((route) => route.path.includes("[repo]") && route.method === "GET")) {
      const [status, reason] = await told(path, "tide-tables");
      expect([path, status, reason]).toEqual([path, ...(await told(path, "nowhere"))]);
      // Where something has to be said, what says nothing is refused for that, before anything is looked for.
      const endpoint: Endpoint = ENDPOINTS[`GET /api/${path.replace(/\[(\w+)\]/g, "{$1}")}` as EndpointName];
      const needs = endpoint.query !== undefined && !v.safeParse(endpoint.query, {}).success;
      expect([path, status]).toEqual([path, needs ? 422 : 404]);
    }
    expect((await ask("GET", addressOf("repos/[repo]/changes/[number]"), { authorization })).status).toBe(200);
  });
});
