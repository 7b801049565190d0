import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { filesRunBy } from "./run-by";

describe("what a command runs", () => {
  it.each([
    ["sh ./scripts/check.sh --all", "scripts/check.sh"],
    ["LIMIT=3 scripts/check.sh>out.txt", "scripts/check.sh"],
    ["if ! ./check; then exit 1; fi", "check"],
    ['sh -c "exec tools/inner"', "tools/inner"],
    ["echo $(timeout 9 tools/count)", "tools/count"],
    ["(cd web && npm test)", "web/package.json"],
    ["npm test", "package.json"],
    ["/usr/bin/make -C docs check", "Makefile"],
    ['node "$PWD"/tools/run.mjs||true', "tools/run.mjs"],
    ["python3 tools/../tools/lint.py", "tools/lint.py"],
  ])("%s: by %s", (command, path) => {
    expect([...filesRunBy(command)]).toContain(path);
  });

  it("is not what it reads", () => {
    for (const command of ["cat a.txt", "grep -c x < a.txt", "wc -l a.txt | tail -n 1", "test -f a.txt && true"])
      expect([...filesRunBy(command)], command).not.toContain("a.txt");
  });

  it("is seen from the folder of a script, too", () => {
    expect([...filesRunBy("./two.sh", "scripts")]).toEqual(expect.arrayContaining(["two.sh", "scripts/two.sh"]));
  });

  it("stays few where a script goes into folders without end", () => {
    const script = Array.from({ length: 5_000 }, (_, n) => `cd d${n}\nsh f${n}`).join("\n");
    expect(filesRunBy(script).size).toBeLessThan(250_000);
  });

  it("lies in the tree, whatever is written", () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom("a", "/", ".", "..", " ", "cd ", "'", "make", "\nconstructor ", ";") }),
        (command) => {
          for (const path of filesRunBy(command)) expect(path.split("/")).not.toContain("..");
          for (const path of filesRunBy(command)) expect(path).toMatch(/^[^/].*[^/]$|^[^/]$/);
        },
      ),
    );
  });
});
