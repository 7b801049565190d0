import fc from "fast-check";
import * as v from "valibot";
import { describe, expect, it } from "vitest";
import { inFigures } from "../plain/words";
import { newAccountForm, ownAccountForm, signInName } from "./account";

const OWN = { word: "w", name: "ann", fullName: "Ann Berg", email: "ann@x.example", password: "long enough" };
const wrong = (form: Parameters<typeof v.safeParse>[0], given: object) =>
  (v.safeParse(form, given).issues ?? []).map((issue) => v.getDotPath(issue as v.BaseIssue<unknown>));

describe("an account as it is typed", () => {
  it("is told by field what is wrong with it, and trimmed but for the password", () => {
    expect(
      v.parse(ownAccountForm, { ...OWN, name: " ann ", fullName: " Ann Berg ", password: " long enough " }),
    ).toEqual({
      ...OWN,
      password: " long enough ",
    });
    const bad = { word: " ", name: "Ann", fullName: "A\u200bnn", email: "ann", password: "short" };
    expect(wrong(ownAccountForm, bad)).toEqual(["word", "name", "fullName", "email", "password"]);
    expect(wrong(ownAccountForm, { ...OWN, email: "" })).toEqual(["email"]);
    expect(wrong(ownAccountForm, { ...OWN, password: "x".repeat(1_001) })).toEqual(["password"]);
  });

  it("for somebody else needs no address, and for a machine no password", () => {
    const { word: _, ...given } = { ...OWN, email: "", machine: false, owner: "kit" };
    expect(v.parse(newAccountForm, given)).toEqual({
      ...{ name: "ann", fullName: "Ann Berg", email: "", machine: false, password: "long enough" },
    });
    expect(wrong(newAccountForm, { ...given, password: "" })).toEqual(["password"]);
    const long = v.safeParse(newAccountForm, { ...given, password: "x".repeat(1_001) });
    expect(long.issues?.[0].message).toBe("A password has 1,000 characters at most.");
    const machine = { ...given, machine: true, password: "" };
    expect(v.parse(newAccountForm, machine)).toEqual({
      name: "ann",
      fullName: "Ann Berg",
      email: "",
      machine: true,
      owner: "kit",
    });
    expect(v.parse(newAccountForm, { ...machine, owner: "" })).not.toHaveProperty("owner");
  });

  it("has a name that can stand in an address, a command and a mention", () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const parsed = v.safeParse(signInName, text);
        if (parsed.success) expect(parsed.output).toMatch(/^[a-z0-9][a-z0-9._-]{0,39}$/);
        else expect(text.trim()).not.toMatch(/^[a-z0-9][a-z0-9._-]{0,39}$/);
      }),
    );
    expect(v.safeParse(signInName, "a\nb").success).toBe(false);
  });
});

describe("a whole number in figures", () => {
  it("is what the language makes of it", () => {
    fc.assert(
      fc.property(fc.maxSafeNat(), (count) => {
        expect(inFigures(count)).toBe(count.toLocaleString("en"));
      }),
    );
  });
});
