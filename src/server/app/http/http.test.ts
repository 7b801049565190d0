import { describe, expect, it } from "vitest";
import { answer, jsonAnswer, readyJson, refused } from "./http";

const LONG = { words: "x".repeat(4_000) };
const keptOf = (response: Response) => response.headers.get("cache-control");

describe("an answer in JSON", () => {
  it("is not packed where it is short, and kept by nobody", async () => {
    expect([keptOf(jsonAnswer({})), keptOf(jsonAnswer(LONG))]).toEqual(["no-store, no-transform", "no-store"]);
    const no = refused({ code: "forbidden", reason: "No." });
    expect([no.status, keptOf(no), await no.json()]).toEqual([
      403,
      "no-store, no-transform",
      { refusal: { code: "forbidden", reason: "No." } },
    ]);
    const made = answer({ ok: true, value: LONG }, 201);
    expect([made.status, made.headers.get("content-type"), await made.json()]).toEqual([201, "application/json", LONG]);
  });

  it("says what else is to be said with it", () => {
    const { headers, status } = jsonAnswer({}, { status: 503, headers: { "set-cookie": "a=b" } });
    expect([status, headers.get("set-cookie"), headers.get("cache-control")]).toEqual([
      503,
      "a=b",
      "no-store, no-transform",
    ]);
  });

  it("is kept for ever by the browser of who may see it, where it never changes", () => {
    const forever = "private, max-age=31536000, immutable";
    expect(keptOf(readyJson(JSON.stringify(LONG), true))).toBe(forever);
    expect(keptOf(readyJson("{}", true))).toBe(`${forever}, no-transform`);
    expect(keptOf(readyJson(JSON.stringify(LONG), false))).toBe("no-store");
  });
});
