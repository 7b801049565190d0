import { SaxesParser } from "saxes";
import { afterAll, beforeAll, expect } from "vitest";
import { COMMAND_LINE } from "../../access/audit";
import { feedReaderOf, makeToken } from "../../access/tokens";
import { Bench, reason, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { feedOf } from "./feed";

const it = story();

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const files = { main: [{ "a.txt": "one\n" }], topic: [{ "a.txt": "two\n" }] };
  await bench.takeIn("quay", await bench.repository("quay", files));
  await bench.person("ada", { quay: "contributor" });
  await bench.person("out");
  value(await bench.open("ada", "quay", "topic"));
  const title = 'Fish & <chips> "to go"\u202e\u0007';
  await bench.app.db.updateTable("change_sets").set({ title }).execute();
});
afterAll(() => bench.clear());

/** The elements of a feed with their text, as a reader of XML has them. */
function read(xml: string): [name: string, text: string][] {
  const elements: [string, string][] = [];
  const open: string[] = [];
  const parser = new SaxesParser({ xmlns: true });
  parser.on("opentag", ({ name }) => {
    open.push(name);
    elements.push([name, ""]);
  });
  parser.on("text", (text) => {
    if (open.length > 0) elements.at(-1)![1] += text;
  });
  parser.on("closetag", () => void open.pop());
  parser.write(xml).close();
  return elements;
}

it("tells of what one may see, and hostile words are words", async () => {
  const feed = read(value(await feedOf(bench.app, bench.people.get("ada")!, "state:open")));
  expect(feed.filter(([name]) => name === "entry")).toHaveLength(1);
  const titles = feed.filter(([name]) => name === "title").map(([, text]) => text);
  expect(titles[0]).toBe("state:open");
  expect(titles[1]).toMatch(/^quay 1: .*\(open\)$/);
  expect(titles[1]).not.toContain("\u202e");
  expect(
    read(value(await feedOf(bench.app, bench.people.get("out")!, ""))).filter(([name]) => name === "entry"),
  ).toEqual([]);
});

it("refuses a query that cannot be read, and a token that can do anything else", async () => {
  expect(reason(await feedOf(bench.app, bench.people.get("ada")!, "state:nowhere"))).toMatch(/\w/);
  const token = async (scopes: ("read" | "feed")[]) =>
    value(await makeToken(bench.app, "ada", { label: "x", scopes }, COMMAND_LINE));
  expect((await feedReaderOf(bench.app, await token(["feed"])))?.name).toBe("ada");
  expect(await feedReaderOf(bench.app, await token(["feed", "read"]))).toBeNull();
  expect(await feedReaderOf(bench.app, await token(["read"]))).toBeNull();
  expect(await feedReaderOf(bench.app, "lens-nothing")).toBeNull();
});
