import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ENDPOINTS } from "@/core/doors/endpoints/table";
import { saidNothingThere } from "./nothing-there";

const server = createServer((request, response) => {
  if (!saidNothingThere(request, response, request.url!)) response.end("handled");
});
let at = "";
beforeAll(async () => {
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  at = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());

describe("who asks where nothing is", () => {
  it("is heard wherever the table has something, whatever stands in the places of its address", async () => {
    for (const name of Object.keys(ENDPOINTS)) {
      const [method, path] = name.split(" ");
      const filled = path.replaceAll(/\{\w+\}/g, "a%2Fb");
      const response = await fetch(at + filled, { method });
      expect(await response.text(), name).toBe("handled");
    }
    expect((await fetch(`${at}/api/health`, { method: "HEAD" })).status).toBe(200);
  });

  it("is told so as of any other refusal, and by what the address is asked", async () => {
    const none = await fetch(`${at}/api/repos/quay/nothing`);
    expect(none.status).toBe(404);
    expect(none.headers.get("content-security-policy")).toContain("sandbox");
    expect(await none.json()).toMatchObject({ refusal: { code: "missing" } });
    const wrong = await fetch(`${at}/api/health`, { method: "DELETE", headers: { accept: "text/html" } });
    expect([wrong.status, wrong.headers.get("allow")]).toEqual([405, "GET"]);
    expect(await wrong.json()).toMatchObject({
      refusal: { reason: expect.stringMatching(/asked by GET, not by DELETE/) },
    });
  });

  it("is shown a page where a browser asks for one, and nothing is said of what is no address of the table", async () => {
    const page = await fetch(`${at}/api/none`, { headers: { accept: "text/html,*/*" } });
    expect(await page.text()).toBe("handled");
    for (const path of ["/api", "/api/", "/apiary/x", "/r/quay/nothing", "/api//health", "/api/none/"])
      expect(await (await fetch(at + path)).text(), path).toBe("handled");
    expect(await (await fetch(`${at}/api/none`, { method: "OPTIONS" })).text()).toBe("handled");
  });
});
