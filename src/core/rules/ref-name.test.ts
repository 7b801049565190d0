import { describe, expect, it } from "vitest";
import { wrongRefNames } from "./ref-name";

const known = { branches: ["main", "admin", "v1"], tags: ["v2"] };
const wrong = (ref: string) => wrongRefNames([ref], known);

describe("names of branches and tags", () => {
  it("are refused where they would be taken for something else, with the reason", () => {
    const cases: [string, RegExp][] = [
      ["refs/heads/HEAD", /git’s own/],
      ["refs/heads/refs/heads/x", /another ref/],
      [`refs/tags/${"a".repeat(40)}`, /a commit/],
      ["refs/heads/-x", /an option/],
      ["refs/heads/a\u202eb", /cannot be seen/],
      ["refs/tags/v1", /before the branch/],
      ["refs/heads/v2", /behind the tag/],
      ["refs/heads/\u0430dmin", /taken for admin/],
      ["refs/notes/x", /only branches and tags/],
    ];
    for (const [ref, why] of cases) expect(wrong(ref)).toEqual([expect.stringMatching(why)]);
    for (const ref of ["refs/heads/topic", "refs/tags/v3", "refs/heads/größe"]) expect(wrong(ref)).toEqual([]);
  });

  it("of a push that brings thousands are held against each other, the known ones gone through once", () => {
    const names = Array.from({ length: 8_000 }, (_, n) => `${"ä".repeat(30)}-${n}`);
    const [first] = names;
    const twin = first.replace("ä", "\u0430\u0308");
    const refs = [...names, twin].map((name) => `refs/heads/${name}`);
    const wrong = wrongRefNames(refs, { branches: [...names, twin], tags: [] });
    expect(wrong).toHaveLength(2);
    for (const why of wrong) expect(why).toMatch(/would be taken for/);
  });
});
