import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { MessageChannel } from "node:worker_threads";
import { deflateSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { formatPatch, patchOrder } from "@/core/diff/unified";
import { ObjectReader } from "@/git/objects";
import { Bench } from "../testing/bench";
import { type Aid, aidThrough, helpThrough } from "./aid";
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
      const { files, reading } = await compareTrees(objects, a, b);
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

  it("comes to the same with another thread's help, whatever is given away", async () => {
    const files = (said: string) =>
      Object.fromEntries(
        Array.from({ length: 90 }, (_, n) => [`berths/${n}.ts`, `export const berth${n} = "${said}";\n// а${n}\n`]),
      );
    const before = { ...files("free"), "gone.ts": "one\ntwo\nthree\nfour\n", "bin.dat": Buffer.from([0, 1]) };
    const after = {
      ...files("kept"),
      "gone.ts": null,
      "come.ts": "one\ntwo\nthree\nfour\nfive\n",
      "bin.dat": "text\n",
    };
    const many = await bench.repository("many", { main: [before], topic: [after] });
    const folder = join(many, ".git");
    const objects = new ObjectReader(folder);
    const [a, b] = [await bench.git(many, "rev-parse", "main"), await bench.git(many, "rev-parse", "topic")];
    const alone = await compareTrees(objects, a, b);
    const { port1, port2 } = new MessageChannel();
    const helping = helpThrough(port2);
    const aid = aidThrough(port1);
    await expect.poll(aid).not.toBeNull();
    let given = 0;
    const counted: Aid = {
      ...aid()!,
      compare: (pairs) => {
        given += pairs.length;
        return aid()!.compare(pairs);
      },
    };
    const told: string[] = [];
    const made = ({ path }: { path: string }) => told.push(path);
    const together = await compareTrees(objects, a, b, { aid: () => counted, made });
    expect(given).toBeGreaterThan(20);
    expect(together.reading).toEqual(alone.reading);
    expect(told.toSorted()).toEqual(alone.reading.files.map(({ path }) => path).toSorted());
    port1.close();
    await helping;
    objects.close();
  });
});
