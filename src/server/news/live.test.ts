import { afterAll, beforeAll, expect } from "vitest";
import { story } from "@/server/testing/story";
import { Bench, value } from "../testing/bench";
import { ANY, newsOf } from "./live";

const it = story();

const still = async () => true;
let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "one\n" }],
    topic: [{ "a.txt": "two\n" }],
    other: [{ "a.txt": "three\n" }],
  });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
  value(await bench.open("ada", "quay", "other"));
});
afterAll(() => bench.clear());

/** Reads events until there are as many, and gives what they carry. */
async function heard(stream: ReadableStream<Uint8Array>, count: number): Promise<unknown[]> {
  const reader = stream.getReader();
  const decoder = new TextDecoder();
  const news: unknown[] = [];
  let rest = "";
  while (news.length < count) {
    const { value: bytes, done } = await reader.read();
    if (done) break;
    const parts = (rest + decoder.decode(bytes, { stream: true })).split("\n\n");
    rest = parts.pop() ?? "";
    for (const part of parts) if (part.startsWith("data: ")) news.push(JSON.parse(part.slice(6)));
  }
  reader.releaseLock();
  return news;
}

it("tells every open page of its own change set, in order, from when it was opened", async () => {
  const { change } = await bench.change("quay", 1);
  const { change: second } = await bench.change("quay", 2);
  const say = (number: number, remark: string) =>
    bench.do("ben", "quay", number, { kind: "send-review", revision: 1, verdict: "none", remark });
  value(await say(1, "Before anyone looked."));
  const stop = new AbortController();
  const pages = [change, change, second].map(({ id }) => newsOf(bench.app, id, { signal: stop.signal, still }));
  const told = Promise.all([heard(pages[0], 2), heard(pages[1], 2), heard(pages[2], 1)]);
  await new Promise((resolve) => setTimeout(resolve, 100));
  value(await say(1, "One."));
  value(await say(2, "Two."));
  value(await bench.do("ada", "quay", 1, { kind: "withdraw" }));
  const [ada, ben] = ["ada", "ben"].map((name) => bench.people.get(name)!.id);
  const first = [
    { kind: "reviewed", by: ben, says: "a word of ben Example" },
    { kind: "withdrawn", by: ada, says: "withdrawn by ada Example" },
  ];
  expect(await told).toEqual([first, first, [first[0]]]);
  stop.abort();
});

it("ends when nobody listens any more, and begins anew", async () => {
  const { change } = await bench.change("quay", 2);
  const gone = new AbortController();
  const page = newsOf(bench.app, change.id, { signal: gone.signal, still });
  const all = heard(page, 99);
  await new Promise((resolve) => setTimeout(resolve, 50));
  gone.abort();
  expect(await all).toEqual([]);
  const again = new AbortController();
  const news = heard(newsOf(bench.app, change.id, { signal: again.signal, still }), 1);
  await new Promise((resolve) => setTimeout(resolve, 50));
  value(await bench.do("ada", "quay", 2, { kind: "withdraw" }));
  expect(await news).toMatchObject([{ kind: "withdrawn" }]);
  again.abort();
});

it("ends, and tells no more, when who listens may not see it any more", async () => {
  value(await bench.do("ada", "quay", 2, { kind: "open-again" }));
  const { change } = await bench.change("quay", 2);
  let may = true;
  let ended = 0;
  const page = newsOf(bench.app, change.id, {
    signal: new AbortController().signal,
    still: async () => may,
    ended: () => ended++,
  });
  const all = heard(page, 99);
  await new Promise((resolve) => setTimeout(resolve, 50));
  may = false;
  value(await bench.do("ada", "quay", 2, { kind: "withdraw" }));
  expect(await all).toEqual([]);
  expect(ended).toBe(1);
});

it("tells who listens to all that something happened to one they may see, and nothing more", async () => {
  value(await bench.do("ada", "quay", 2, { kind: "open-again" }));
  const { change } = await bench.change("quay", 2);
  const stop = new AbortController();
  const hears = async (id: string) => id === change.id;
  const one = heard(newsOf(bench.app, ANY, { signal: stop.signal, still, hears }), 1);
  const none = heard(newsOf(bench.app, ANY, { signal: stop.signal, still, hears: async () => false }), 1);
  await new Promise((resolve) => setTimeout(resolve, 50));
  value(await bench.do("ada", "quay", 2, { kind: "withdraw" }));
  expect(await one).toEqual([{}]);
  stop.abort();
  expect(await none).toEqual([]);
});
