import { beforeAll, describe, expect, it } from "vitest";
import { allGrammars } from "@/server/workers/grammars/grammars";
import type { Parse } from "../../grammar/parse";
import { switchedIn } from "../testing/switched-in";

let parse: Parse;
beforeAll(async () => {
  parse = await allGrammars();
});

const said = (path: string, old: string, next: string) => switchedIn(parse, path, old, next);
const PART = "1 unchanged line is a part of the statement above now.";
const NONE = "1 unchanged line is no part of the statement above any more.";

describe("an unchanged line below one that ends in a backslash", () => {
  it.each<[path: string, old: string, next: string, says: string]>([
    ["a.py", "x = 1\ncheck()\n", "x = 1 + \\\ncheck()\n", PART],
    ["a.py", "go()\ncheck()\n", "go()\nx = deny or \\\ncheck()\n", PART],
    ["a.sh", "x=1\ncheck\n", "x=1 \\\ncheck\n", PART],
    ["a.sh", "go\ncheck\n", "go\necho \\\\\\\ncheck\n", PART],
    ["a.rb", "x = 1\ncheck\n", "x = go \\\ncheck\n", PART],
    ["a.sh", "rm -r a \\\n  --one-file-system\n", "rm -r b\n  --one-file-system\n", NONE],
    ["a.py", "x = a + \\\n  -check()\n", "if a:\n  -check()\n", NONE],
  ])("in %s %j → %j", (path, old, next, says) => {
    const line = next.split("\n").length - 1;
    expect(said(path, old, next)).toEqual([[says, line]]);
  });

  it.each<[path: string, what: string, old: string, next: string]>([
    ["a.sh", "which looks like a part of it", "go a\n", "go a \\\n  b\n"],
    ["a.sh", "that was one before", "go \\\n  b\n", "go \\\n  a \\\n  b\n"],
    ["a.sh", "in a comment", "go\ncheck\n", "go # as a \\\ncheck\n"],
    ["a.sh", "of two", "echo a\ncheck\n", "echo \\\\\ncheck\n"],
    ["a.sh", "in a text", "cat <<X\na\nb\nX\n", "cat <<X\na \\\nb\nX\n"],
    ["a.sh", "in quotation marks", "go \\\n  a \\\n  b\n", "go 'c\n  b'\n"],
    ["a.py", "that is in brackets now", "assert a, \\\n    b\n", "assert a, (\n    b\n)\n"],
    ["a.py", "within brackets", "go(a, \\\n   b)\n", "go(c,\n   b)\n"],
    ["a.py", "with nothing on it", "x = 1\n\ncheck()\n", "x = 2\n\ncheck()\n"],
    ["a.js", "of a language in which lines end nothing", "go(a)\nfree()\n", "go('\\\n')\nfree()\n"],
  ])("in %s none %s", (path, _, old, next) => {
    expect(said(path, old, next)).toEqual([]);
  });
});
