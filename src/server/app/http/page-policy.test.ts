import { createServer, type IncomingHttpHeaders } from "node:http";
import type { AddressInfo } from "node:net";
import { expect, it } from "vitest";
import { NONCE, setPagePolicy } from "./page-policy";

/** What an answer says of a path, and what who makes the page hears, of a request with such headers. */
async function asked(path: string, headers: Record<string, string> = {}) {
  let heard: IncomingHttpHeaders = {};
  const server = createServer((request, response) => {
    setPagePolicy(request, response, path, false);
    heard = request.headers;
    response.end();
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const { port } = server.address() as AddressInfo;
  const said = (await fetch(`http://127.0.0.1:${port}/`, { headers })).headers;
  server.close();
  return { said, heard };
}

it("is another one for each page, and known to who makes it", async () => {
  const [one, other] = [await asked("/r/quay"), await asked("/r/quay")];
  const policy = one.said.get("content-security-policy") ?? "";
  expect(policy).toContain(`'nonce-${one.heard[NONCE]}'`);
  expect(one.heard["content-security-policy"]).toBe(policy);
  expect(policy).toMatch(/^default-src 'none'; script-src 'self' 'nonce-[^']+' 'strict-dynamic';/);
  expect(policy).toContain("frame-ancestors 'none'");
  expect(policy).not.toContain("unsafe-eval");
  expect(other.heard[NONCE]).not.toBe(one.heard[NONCE]);
  expect(one.said.get("x-content-type-options")).toBe("nosniff");
});

it("is never what a browser says itself, wherever it asks", async () => {
  const own = { [NONCE]: "mine", "content-security-policy": "script-src 'nonce-mine'" };
  for (const path of ["/", "/api", "/api/health", "/icon.svg", "/_next/static/x.js"]) {
    const { heard } = await asked(path, { ...own, "content-security-policy-report-only": "script-src 'nonce-mine'" });
    expect(JSON.stringify(heard), path).not.toContain("mine");
  }
});

it("is left to the API where that answers", async () => {
  expect((await asked("/api/health")).said.get("content-security-policy")).toBeNull();
  const shown = { accept: "text/html,application/xhtml+xml,*/*;q=0.8" };
  expect((await asked("/api/none", shown)).said.get("content-security-policy")).toContain("default-src 'none'");
  expect((await asked("/icon.svg", shown)).said.get("content-security-policy")).toBeNull();
  expect((await asked("/api")).said.get("content-security-policy")).toContain("default-src 'none'");
});
