import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { deflateSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { formatPatch, patchOrder } from "@/core/diff/unified";
import { ObjectReader } from "@/git/objects";
import { Bench } from "../testing/bench";
import { compareTrees } from "./tree";

let bench: Bench;

beforeAll(async () => {
  bench = await Bench.set();
});
afterAll(() => bench.clear());

describe("comparing trees", () => {
  it("gives a patch that git applies to the one and finds the other, whatever is in them", async () => {
    const odd = await bench.repository("odd", {
      main: [
        {
          "a.ts": "one\ntwo\nthree\n",
          "gone to/b c.txt": `${"line\n".repeat(9)}end`,
          "bin.dat": Buffer.from([1, 0, 2, 3]),
          "crlf.txt": "a\r\nb\r\n",
          "latin.txt": Buffer.from([0x62, 0xe6, 10]),
          swap: "file\n",
          "empty.txt": "",
        },
      ],
      topic: [
        {
          "a.ts": "one\n2\nthree",
          "gone to/b c.txt": null,
          'come/"q"\n\té.txt': `${"line\n".repeat(9)}END`,
          "bin.dat": Buffer.from(Array.from({ length: 300 }, (_, i) => (i * 7) % 256)),
          "crlf.txt": "a\nb\r\n",
          "latin.txt": Buffer.from([0x62, 0xe6, 0xf8, 10]),
          "wide.txt": Buffer.from("\ufeffwide\n", "utf16le"),
          swap: null,
          "swap/inside": "now a folder\n",
          "-dash": "x\n",
          "copy.ts": "one\ntwo\nthree\n",
          "new-empty": "",
        },
      ],
    });
    const folder = join(odd, ".git");
    const objects = new ObjectReader(folder);
    for (const [from, to] of [
      ["main", "topic"],
      ["topic", "main"],
    ]) {
      const [a, b] = [await bench.git(odd, "rev-parse", from), await bench.git(odd, "rev-parse", to)];
      const { files, reading } = await compareTrees(folder, objects, a, b);
      const patch = patchOrder(files).map(({ change, oldBytes, newBytes }) =>
        formatPatch({ change, old: oldBytes, next: newBytes }, deflateSync),
      );
      writeFileSync(join(bench.folder, "patch"), Buffer.from(patch.join(""), "latin1"));
      await bench.git(odd, "checkout", "--quiet", "--detach", a);
      await bench.git(odd, "apply", "--index", "--whitespace=nowarn", join(bench.folder, "patch"));
      expect(await bench.git(odd, "write-tree")).toBe(await bench.git(odd, "rev-parse", `${b}^{tree}`));
      await bench.git(odd, "reset", "--quiet", "--hard");
      if (from === "main")
        expect(reading.files.find(({ oldPath }) => oldPath === "gone to/b c.txt")?.status).toBe("renamed");
    }
    objects.close();
  });
});
