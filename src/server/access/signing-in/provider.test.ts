import { afterAll, beforeAll, beforeEach, describe, expect } from "vitest";
import { Bench, reason, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { personOfSession, signIn } from "../sessions";
import { comeBack, type Leaving, leaveFor } from "./provider";
import { type Claims, type ProviderStandIn, startProviderStandIn } from "./provider-standin";

const it = story();

const AT = "https://lens.example";
const HERE = { address: "127.0.0.1", agent: "test" };
let bench: Bench;
let provider: ProviderStandIn;

beforeAll(async () => {
  bench = await Bench.set();
  for (const name of ["ada", "ben", "cy"]) await bench.person(name);
  provider = await startProviderStandIn({ id: "earnest-lens", secret: "hush: it" });
  const { issuer } = provider;
  bench.app.settings.provider = { issuer, client: "earnest-lens", secret: "hush: it", name: "the harbour" };
});
afterAll(async () => {
  await provider.close();
  await bench.clear();
});
beforeEach(() => {
  provider.person = null;
});

const mailOf = async (name: string) =>
  (await bench.app.db.selectFrom("people").select("email").where("name", "=", name).executeTakeFirstOrThrow()).email;

/** Goes to the provider and gives what the browser comes back with. */
async function gone(): Promise<{ leaving: Leaving; search: string }> {
  const { to, leaving } = value(await leaveFor(bench.app, AT, "/notices"));
  expect(new URL(to).searchParams.get("redirect_uri")).toBe(`${AT}/api/sign-in/provider/back`);
  const { headers } = await fetch(to, { redirect: "manual" });
  return { leaving, search: new URL(headers.get("location") ?? "").search };
}
async function come(person: Claims | null): Promise<string> {
  provider.person = person;
  const { leaving, search } = await gone();
  const came = await comeBack(bench.app, AT, search, leaving, HERE);
  return "not" in came ? came.not : ((await personOfSession(bench.app, came.session))?.name ?? "nobody");
}

describe("signing in through a provider", () => {
  it("knows somebody by their confirmed mail address the first time, and by what the provider calls them from then on", async () => {
    const email = await mailOf("ada");
    expect(await come({ sub: "a-1", email, email_verified: false })).toBe("unknown");
    expect(await come({ sub: "a-1", email })).toBe("unknown");
    expect(await come({ sub: "a-1", email: email.toUpperCase(), email_verified: true })).toBe("ada");
    // The address is another one by now, and somebody else has taken it there.
    expect(await come({ sub: "a-1", email: await mailOf("ben"), email_verified: true })).toBe("ada");
    expect(await come({ sub: "a-1" })).toBe("ada");
  });

  it("lets nobody in whom nobody here is, nor who was disabled, nor by an address that two have", async () => {
    expect(await come({ sub: "x", email: "stranger@x.example", email_verified: true })).toBe("unknown");
    expect(await come({ sub: "x" })).toBe("unknown");
    const email = await mailOf("ben");
    await bench.app.db.updateTable("people").set({ email }).where("name", "=", "cy").execute();
    expect(await come({ sub: "b-1", email, email_verified: true })).toBe("unknown");
    await bench.app.db.updateTable("people").set({ disabled_at: 1 }).where("name", "=", "ada").execute();
    expect(await come({ sub: "a-1" })).toBe("unknown");
    await bench.app.db.updateTable("people").set({ disabled_at: null }).where("name", "=", "ada").execute();
    expect(await come(null)).toBe("failed");
  });

  it("lets nobody come back with what another began, twice, or with what was made up", async () => {
    provider.person = { sub: "a-1" };
    const [mine, other] = [await gone(), await gone()];
    const back = (search: string, leaving: Leaving) => comeBack(bench.app, AT, search, leaving, HERE);
    expect(await back(mine.search, other.leaving)).toEqual({ not: "failed" });
    expect(await back(mine.search, { ...mine.leaving, verifier: other.leaving.verifier })).toEqual({ not: "failed" });
    const third = await gone();
    expect(await back(third.search, { ...third.leaving, nonce: "made up" })).toEqual({ not: "failed" });
    const fourth = await gone();
    expect(await back(fourth.search, fourth.leaving)).toHaveProperty("session");
    expect(await back(fourth.search, fourth.leaving)).toEqual({ not: "failed" });
    expect(await back("?code=abc&state=x", mine.leaving)).toEqual({ not: "failed" });
    expect(await back("", mine.leaving)).toEqual({ not: "failed" });
  });

  it("takes a token of nobody but the provider, for nobody but us", async () => {
    const forged = await startProviderStandIn({ id: "lens", secret: "another" });
    forged.person = { sub: "a-1" };
    // Who stands in the way gives their own code.
    provider.person = { sub: "a-1" };
    const { leaving } = value(await leaveFor(bench.app, AT, "/"));
    const to = `${forged.issuer}/authorize?${new URLSearchParams({ redirect_uri: `${AT}/api/sign-in/provider/back`, state: leaving.state, nonce: leaving.nonce })}`;
    const { headers } = await fetch(to, { redirect: "manual" });
    const search = new URL(headers.get("location") ?? "").search;
    expect(await comeBack(bench.app, AT, search, leaving, HERE)).toEqual({ not: "failed" });
    await forged.close();
  });

  it("can be tried with people to choose from, who are asked who they are", async () => {
    const email = await mailOf("ada");
    const people = [{ sub: "d-1", name: "Ada <b>", email, email_verified: true }];
    const chosen = await startProviderStandIn({ id: "lens", secret: "hush" }, { people });
    const { to, leaving } = value(await leaveFor(bench.app, AT, "/"));
    const url = new URL(to);
    const asked = await fetch(`${chosen.issuer}/authorize${url.search}`);
    const [, link = ""] = /<a href="([^"]+)">/.exec(await asked.text()) ?? [];
    const { headers } = await fetch(link.replaceAll("&amp;", "&"), { redirect: "manual" });
    const back = new URL(headers.get("location") ?? "");
    expect(back.searchParams.get("state")).toBe(leaving.state);
    expect(back.searchParams.get("code")).toMatch(/^[0-9a-f]+$/);
    await chosen.close();
  });

  it("leaves passwords aside where they are switched off, and says so where there is no provider", async () => {
    bench.app.settings.passwords = false;
    const tried = await signIn(bench.app, { name: "ben", password: "long enough" }, HERE);
    expect(reason(tried)).toMatch(/Nobody signs in by a password here/);
    bench.app.settings.passwords = true;
    const { provider: set } = bench.app.settings;
    bench.app.settings.provider = null;
    expect(reason(await leaveFor(bench.app, AT, "/"))).toMatch(/No provider/);
    bench.app.settings.provider = set;
  });
});
