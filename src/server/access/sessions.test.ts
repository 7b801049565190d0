import { afterAll, beforeAll, describe, expect } from "vitest";
import { story } from "@/server/testing/story";
import { forbiddenElsewhere } from "../app/http/http";
import { Bench, reason, value } from "../testing/bench";
import { checkPassword } from "./people";
import { personOfSession, sessionCookie, signIn, signInToDemo } from "./sessions";

const it = story();

const HERE = { address: "127.0.0.1", agent: "test" };
let bench: Bench;

beforeAll(async () => {
  bench = await Bench.set();
  for (const name of ["ada", "rea"]) await bench.person(name);
});
afterAll(() => bench.clear());

describe("signing in", () => {
  it("takes the right password only, and gives a session that holds until it is ended", async () => {
    const token = value(await signIn(bench.app, { name: "ada", password: "long enough" }, HERE));
    expect((await personOfSession(bench.app, token))?.name).toBe("ada");
    expect(await personOfSession(bench.app, `${token}x`)).toBeNull();
    expect(await personOfSession(bench.app, undefined)).toBeNull();
    expect(reason(await signIn(bench.app, { name: "ada", password: "wrong" }, HERE))).toBe(
      "Name and password do not match.",
    );
    expect(reason(await signIn(bench.app, { name: "nobody", password: "wrong" }, HERE))).toBe(
      "Name and password do not match.",
    );
    expect(await checkPassword(bench.app, "ada", "")).toBeNull();
    expect(reason(await signInToDemo(bench.app, "ada", HERE))).toMatch(/made-up people/);
    const stored = await bench.app.db.selectFrom("sessions").select("token_hash").execute();
    expect(stored.map(({ token_hash }) => token_hash)).not.toContain(token);
    expect(sessionCookie("t", true)).toMatch(/HttpOnly; SameSite=Lax; .*Secure/);
  });

  it("slows down who guesses, also all at once, and never locks the owner of a name out", async () => {
    const guesses = (address: string, many: number) =>
      Promise.all(
        Array.from({ length: many }, async (_, i) =>
          reason(await signIn(bench.app, { name: "rea", password: `guess ${i}` }, { address, agent: "" })),
        ),
      );
    const told = await guesses("10.0.0.66", 30);
    // What was not refused was verified: no more than a few of those that came at once.
    expect(told.filter((why) => why.startsWith("Name and")).length).toBeLessThanOrEqual(6);
    for (let i = 0; i < 20; i++) await guesses(`10.0.1.${i}`, 2);
    expect(
      reason(await signIn(bench.app, { name: "rea", password: "long enough" }, { address: "10.0.0.66", agent: "" })),
    ).toMatch(/too many wrong tries/);
    expect((await guesses("10.0.1.3", 1))[0]).toMatch(/too many wrong tries/);
    value(await signIn(bench.app, { name: "rea", password: "long enough" }, { address: "10.0.2.1", agent: "" }));
  });

  it("makes an address wait that tries many names", async () => {
    const tries = [];
    for (let i = 0; i < 34; i++)
      tries.push(reason(await signIn(bench.app, { name: `n${i}`, password: "x" }, { address: "10.9.9.9", agent: "" })));
    expect(tries.at(0)).toMatch(/do not match/);
    expect(tries.at(-1)).toMatch(/too many wrong tries/);
  });

  it("refuses writes from pages of other sites", () => {
    const from = (headers: Record<string, string>, method = "POST") =>
      forbiddenElsewhere(
        new Request("http://lens.test/api/x", { method, headers: { host: "lens.test", ...headers } }),
        null,
      );
    expect(from({ origin: "http://lens.test" })).toBeNull();
    expect(from({})).toBeNull();
    expect(from({ origin: "http://evil.test" }, "GET")).toBeNull();
    const foreign: Record<string, string>[] = [
      { origin: "http://evil.test" },
      { origin: "null" },
      { "sec-fetch-site": "cross-site" },
    ];
    for (const headers of foreign) {
      expect(from(headers)?.reason).toMatch(/another site/);
    }
    expect(
      forbiddenElsewhere(new Request("http://x", { method: "PUT", headers: { origin: "https://a" } }), "https://b"),
    ).not.toBeNull();
  });
});
