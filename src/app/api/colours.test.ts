import { afterAll, beforeAll, describe, expect } from "vitest";
import { value } from "@/server/testing/bench";
import { story } from "@/server/testing/story";
import { Api } from "../testing/api";

const it = story();

let api: Api;
let blob: string;
let was: string;
const GONE = "0".repeat(40);
const COLOURS = "GET /api/repos/{repo}/colours" as const;
const parts = { repo: "quay" };
/** The colours of `a.ts`, and for how long browsers keep them. */
const asked = async (query: { old?: string; new?: string }) => {
  const answer = await api.send(COLOURS, "ben", { parts, query: { ...query, path: "a.ts" } });
  return { ...(await answer.json()), kept: answer.headers.get("cache-control")?.includes("immutable") };
};

beforeAll(async () => {
  api = await Api.set();
  value(await api.bench.open("ada", "quay", "pier"));
  const { folder } = await api.bench.change("quay", 1);
  blob = await api.bench.git(folder, "rev-parse", "pier:a.ts");
  was = await api.bench.git(folder, "rev-parse", "main:a.ts");
});
afterAll(() => api.clear());

describe("the colours of a file", () => {
  it("are those of each side that is asked for, and are kept by browsers", async () => {
    const both = await asked({ old: was, new: blob });
    expect(both).toMatchObject({ old: expect.any(Array), new: expect.any(Array), kept: true });
    // `export` and `const` are words of the language, in both states; what they say differs in line 4.
    expect(both.old[0].slice(0, 2)).toEqual(both.new[0].slice(0, 2));
    expect(both.old[3]).not.toEqual(both.new[3]);
    expect(await asked({ new: blob })).toEqual({ old: [], new: both.new, kept: true });
    expect(await asked({ old: was })).toEqual({ old: both.old, new: [], kept: true });
  });

  it("are told of one side where the other cannot be had, and asked for again", async () => {
    const { new: alone } = await asked({ new: blob });
    expect(await asked({ old: GONE, new: blob })).toEqual({ old: [], new: alone, kept: false });
  });

  it("are refused where there is nothing of either side", async () => {
    expect(await api.refusal(COLOURS, "ben", { parts, query: { old: GONE, new: GONE } })).toBe("missing");
    expect(await api.refusal(COLOURS, "ben", { parts, query: { new: "HEAD" } })).toBe("invalid");
    expect(await api.refusal(COLOURS, "ben", { parts, query: {} })).toBe("invalid");
    // Whoever has no role hears of no more than that.
    expect(await api.refusal(COLOURS, "out", { parts, query: {} })).toBe("missing");
    expect(await api.refusal(COLOURS, "out", { parts, query: { new: blob } })).toBe("missing");
  });
});
