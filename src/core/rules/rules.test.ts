import fc from "fast-check";
import * as v from "valibot";
import { describe, expect, it } from "vitest";
import { exactness, fitsWords, matcher, wrongPattern } from "../pattern/pattern";
import { NO_RULE, type Rule, ruleOf, rulesSchema, withoutGroups } from "./rule";
import { rulesDifferences, ruleWords } from "./rule-words";
import { wrongRules } from "./wrong";

describe("patterns", () => {
  it("fit by parts, and the most exact one counts", () => {
    expect(["main", "release/1"].map(matcher("release/*"))).toEqual([false, true]);
    expect(matcher("release/*")("release/1/hot")).toBe(false);
    expect(matcher("**/*.ts")("plan.ts")).toBe(true);
    expect(matcher("plan/**")("plan/.hidden/x")).toBe(true);
    const rules = v.parse(rulesSchema, {
      rules: ["**", "release/**", "release/*", "release/1.0"].map((branches) => ({ branches, direct: true })),
    });
    const counts = (branch: string) => ruleOf(rules, branch)?.branches;
    expect(["main", "release/2/x", "release/2", "release/1.0"].map(counts)).toEqual([
      "**",
      "release/**",
      "release/**",
      "release/1.0",
    ]);
    expect(exactness("main")).toBeGreaterThan(exactness("release-candidates-*"));
    expect(ruleOf({ ...rules, rules: [] }, "main")).toBeNull();
    expect([wrongPattern("a b"), wrongPattern(""), wrongPattern("!main"), wrongPattern("+(a)")].map(Boolean)).toEqual([
      false,
      true,
      true,
      true,
    ]);
  });

  it("for words agree with what a star and a question mark mean, in bounded time", () => {
    const part = fc.constantFrom("a", "b", "*", "?", "ab");
    const pattern = fc.array(part, { maxLength: 8 }).map((parts) => parts.join(""));
    const text = fc.array(fc.constantFrom("a", "b", "c"), { maxLength: 8 }).map((parts) => parts.join(""));
    fc.assert(
      fc.property(pattern, text, (p, t) => {
        const meant = new RegExp(`^${p.replaceAll("*", "[^]*").replaceAll("?", "[^]")}$`);
        expect(fitsWords(t, p)).toBe(meant.test(t));
      }),
    );
    expect(fitsWords("a".repeat(5_000), `${"*a".repeat(100)}b`)).toBe(false);
  });
});

describe("how two editions of rules differ", () => {
  const rules = (rule: object, more: object = {}) =>
    v.parse(rulesSchema, { groups: { tariff: ["ben"] }, rules: [rule, { branches: "**", direct: true }], ...more });
  const main = { branches: "main", approvals: { count: 1, from: ["ben"] }, checks: ["build"] };
  const told = (after: ReturnType<typeof rules>) => rulesDifferences(rules(main), after).map(({ about }) => about);

  it("is told whatever it is: nothing that could be changed is left unsaid", () => {
    expect(told(rules(main))).toEqual([]);
    const changes: Record<Exclude<keyof Rule, "branches" | "approvals">, unknown> = {
      ...{ stewards: [{ paths: "a/**", of: ["ben"] }], direct: true, requests: false, threads: false, tasks: false },
      ...{ checks: ["words"], checksFrom: ["gauge"], workItem: true, title: "x*", commits: "x*", signedOff: true },
      ...{ linear: true, upToDate: true, mostToRead: 9, merging: ["squash"], deleteSource: true, passing: true },
      freezes: [{ from: "2026-12-24T00:00:00Z", until: "2026-12-26T00:00:00Z", why: "x" }],
    };
    for (const [key, value] of Object.entries(changes))
      expect(told(rules({ ...main, [key]: value })), key).toEqual(["main"]);
    const approvals: Record<keyof Rule["approvals"], unknown> = {
      ...{ count: 2, share: 50, author: true, lastPusher: true, makers: false, keep: true, from: null },
    };
    for (const [key, value] of Object.entries(approvals))
      expect(told(rules({ ...main, approvals: { ...main.approvals, [key]: value } })), key).toEqual(["main"]);
    expect(told(rules(main, { groups: { tariff: ["ada"] } }))).toEqual(["Groups"]);
    expect(told(rules(main, { tags: { move: "contributor" } }))).toEqual(["Tags"]);
    expect(told(rules(main, { seconded: true }))).toEqual(["These rules"]);
    expect(told(rules(main, { rules: [{ branches: "**", direct: true }, main] }))).toEqual(["Order"]);
    expect(told(rules(main, { rules: [main] }))).toEqual(["**"]);
  });
});

describe("rules", () => {
  const around = {
    branches: ["main", "release/1"],
    approvers: ["ada", "ben", "cy"],
    keepers: ["cy"],
    paths: ["data/quays.ts"],
  };
  const wrong = (...rules: object[]) =>
    wrongRules(v.parse(rulesSchema, { groups: { tariff: ["ben"] }, rules }), around);

  it("that contradict themselves are errors; what cannot be met as things are is said", () => {
    expect(wrong({ branches: "main" }, { branches: "**", direct: true })).toEqual({ errors: [], notes: [] });
    expect(wrong({ branches: "main", linear: true }).errors[0]).toMatch(/a linear history cannot be kept/);
    expect(wrong({ branches: "main" }, { branches: "main" }).errors[0]).toMatch(/two rules for main/);
    expect(wrong({ branches: "**" }).errors[0]).toMatch(/nobody could push one/);
    expect(wrong({ branches: "main", stewards: [{ paths: "data/**", of: ["@pilots"] }] }).errors[0]).toMatch(
      /no group @pilots/,
    );
    const freeze = { from: "2026-12-24T00:00:00Z", until: "2026-12-23T00:00:00Z", why: "x" };
    expect(wrong({ branches: "main", freezes: [freeze] }).errors[0]).toMatch(/ends before it begins/);
    expect(wrong({ branches: "hotfix/*" }).notes[0]).toMatch(/fits no branch/);
    expect(wrong({ branches: "main", approvals: { count: 3 } }).notes[0]).toMatch(
      /3 approvals can never be given as things are: 3 people/,
    );
    expect(wrong({ branches: "main", stewards: [{ paths: "data/**", of: ["gone"] }] }).notes[0]).toMatch(
      /only no people may approve|may approve here/,
    );
    expect(wrong({ branches: "main", stewards: [{ paths: "plan/**", of: ["@tariff"] }] }).notes[0]).toMatch(
      /fits no file/,
    );
  });

  it("come through a file unchanged, and are read out in sentences", () => {
    const rules = v.parse(rulesSchema, {
      groups: { tariff: ["ben", "cy"] },
      rules: [{ branches: "main", stewards: [{ paths: "tariff/**", of: ["@tariff"] }] }],
    });
    expect(v.parse(rulesSchema, JSON.parse(JSON.stringify(rules)))).toEqual(rules);
    expect(withoutGroups(rules.rules[0], rules.groups).stewards[0].of).toEqual(["ben", "cy"]);
    expect(ruleWords(rules.rules[0]).join(" ")).toMatch(
      /^1 approval\..*tariff\/\*\*: @tariff must agree\..*Pushes cannot go straight there\.$/,
    );
    expect(ruleWords(NO_RULE)[0]).toBe("No approval is asked for.");
    expect(v.safeParse(rulesSchema, { rules: [{ branches: "main", aprovals: 2 }] }).success).toBe(false);
  });
});
