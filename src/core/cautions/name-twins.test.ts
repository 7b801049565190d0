import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readTexts } from "../quiet/read-texts";
import { fallTogether, nameTwins } from "./name-twins";

const twin = (names: string[], added: string) => nameTwins([...names, added], [added]).get(added) ?? null;

describe("names that are taken for each other", () => {
  it.each<[added: string, beside: string[], twin: string | null]>([
    ["Auth.ts", ["auth.ts", "other.ts"], "auth.ts"],
    ["auth.ts", ["Auth.tsx", "auth.js"], null],
    ["caf\u0065\u0301.md", ["caf\u00e9.md"], "caf\u00e9.md"],
    ["\u0430uth.ts", ["auth.ts"], "auth.ts"],
    ["auth.ts", ["\u0430uth.ts"], "\u0430uth.ts"],
    // Of ASCII alone: whoever reads them sees which is which, and numbers stand beside letters everywhere.
    ["item1.ts", ["iteml.ts"], null],
    ["\u017fafe.ts", ["safe.ts"], "safe.ts"],
    ["größe.ts", ["grösse.ts", "groesse.ts"], null],
    ["auth.ts. .", ["auth.ts"], "auth.ts"],
    ["auth.ts.\u200c", ["auth.ts"], "auth.ts"],
    ["..", ["..."], null],
    ["auth .ts", ["auth.ts"], null],
  ])("%s beside %j", (added, beside, expected) => {
    expect(twin(beside, added)).toBe(expected);
    expect(nameTwins([added, ...beside], []).size).toBe(0);
  });

  it("are found whatever stands beside, and never a name beside itself", () => {
    const name = fc.string({ unit: fc.constantFrom("a", "A", "b", "é", "e\u0301", "\u0430", "1", "."), minLength: 1 });
    fc.assert(
      fc.property(fc.uniqueArray(name, { maxLength: 12 }), fc.nat(), (names, n) => {
        const added = names.filter((_, i) => i !== n % (names.length + 1));
        for (const [one, other] of nameTwins(names, added)) {
          expect(one).not.toBe(other);
          expect(names).toContain(other);
        }
        for (const one of added)
          if (names.some((other) => fallTogether(one, other))) expect(nameTwins(names, added).has(one)).toBe(true);
      }),
    );
  });
});

it("a file that has such a name says so at its head", () => {
  const cautions = (twin: string) =>
    readTexts({ "src/Auth.ts": { old: null, next: "a\n", twin } }, () => null).files[0].cautions;
  expect(cautions("src/auth.ts")).toEqual([
    { kind: "name", line: null, says: expect.stringMatching(/upper from lower case.*“src\/auth\.ts”/) },
  ]);
  expect(cautions("src/\u0430uth.ts")).toEqual([
    {
      kind: "name",
      line: null,
      says: expect.stringMatching(/“src\/\u0430uth\.ts” looks the same, and is another name: U\+0430\./),
    },
  ]);
});

it("are found among thousands that look the same by the sign alone", () => {
  // Each l of the first may be a 1: none of these is foreign, and all have one look.
  const names = Array.from({ length: 20_000 }, (_, n) => n.toString(2).padStart(15, "0").replaceAll("0", "l"));
  expect(nameTwins([...names, "ä"], names).size).toBe(0);
  const foreign = "l".repeat(14) + "\u0406";
  const twins = nameTwins([...names, foreign], [...names, foreign]);
  expect(twins.size).toBe(20_001);
  expect(names.filter((name) => twins.get(name) !== foreign)).toEqual([]);
});
