import { afterAll, beforeAll, describe, expect } from "vitest";
import { type Endpoint, isContent } from "@/core/doors/endpoints/endpoint";
import { ENDPOINTS } from "@/core/doors/endpoints/table";
import { story } from "@/server/testing/story";
import { Api, NAMES } from "../testing/api";

const it = story();

/** Every row of the table of endpoints, asked by who may not and with what is wrong. */

let api: Api;
beforeAll(async () => {
  api = await Api.set();
});
afterAll(() => api.clear());

describe("what is refused", () => {
  it("is refused to who is not signed in, before anything else is said", async () => {
    for (const name of NAMES) {
      if ((ENDPOINTS[name] as Endpoint).who === "everyone") continue;
      expect([
        name,
        await api.refusal(name, "nobody", { body: name.startsWith("GET") ? undefined : "not JSON" }),
      ]).toEqual([name, "unauthenticated"]);
    }
  });

  it("is refused to those who may not see it, as if it did not exist", async () => {
    await api.bench.person("far");
    await api.enter("far");
    for (const name of NAMES) {
      const { who, body, query } = ENDPOINTS[name] as Endpoint;
      if (who === "administrators") expect([name, await api.refusal(name, "ben")]).toEqual([name, "missing"]);
      // What has to be given is asked for first where it has to be: the others go as far as the repository.
      if (!name.includes("{repo}") || (body && !isContent(body)) || query) continue;
      expect([name, await api.refusal(name, "far", { parts: { repo: "quay", number: "1", commit: "x" } })]).toEqual([
        name,
        "missing",
      ]);
    }
  });

  it("is refused to a token that may not, and to pages of other sites", async () => {
    for (const name of NAMES) {
      const { who } = ENDPOINTS[name] as Endpoint;
      if (who === "everyone") continue;
      const reads = name.startsWith("GET ") && who === "signed-in";
      if (!reads) expect([name, await api.refusal(name, "a reading token")]).toEqual([name, "forbidden"]);
      if (!name.startsWith("GET "))
        expect([name, await api.refusal(name, "ben", {}, { origin: "http://evil.example" })]).toEqual([
          name,
          "forbidden",
        ]);
    }
  });

  it("says what is wrong with what has the wrong shape", async () => {
    for (const name of NAMES) {
      const { who, body } = ENDPOINTS[name] as Endpoint;
      if (!body || isContent(body)) continue;
      const as = who === "administrators" ? "root" : "ben";
      const parts = { repo: "quay", number: "1", commit: "x", id: "y", name: "z" };
      expect([name, await api.refusal(name, as, { parts, body: { kind: "nonsense", name: 7 } })]).toEqual([
        name,
        "invalid",
      ]);
    }
  });
});
