import { afterAll, beforeAll, describe, expect } from "vitest";
import { setRole } from "../access/people";
import { Bench, reason, value } from "../testing/bench";
import { story } from "../testing/story";
import type { Message } from "./message";
import { streamOf } from "./stream";

const it = story();

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "one\n" }],
    topic: [{ "a.txt": "two\n" }],
    pier: [{ "b.txt": "two\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.takeIn("secret", work);
  await bench.person("ada", { quay: "contributor", secret: "keeper" });
  await bench.person("ben", { quay: "contributor" });
  value(await bench.open("ada", "quay", "topic"));
});
afterAll(() => bench.clear());

/** Listens until so many events have come, and gives them with their ids. */
async function heard(
  name: string,
  after: string | null,
  many: number,
  meanwhile: () => Promise<unknown> = async () => undefined,
): Promise<{ id: string; message: Message }[]> {
  const stop = new AbortController();
  const person = bench.people.get(name)!;
  const listening = { after, address: "http://lens.example", signal: stop.signal, still: async () => true };
  const response = await streamOf(bench.app, person, listening);
  if (!(response instanceof Response)) throw new Error(reason(response));
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  const events: { id: string; message: Message }[] = [];
  let begun = false;
  while (events.length < many) {
    const { value: words = "", done } = await reader.read();
    if (done) break;
    const [, id, data] = /^id: (.+)\nevent: .+\ndata: (.+)\n\n$/.exec(words) ?? [];
    if (id) events.push({ id, message: JSON.parse(data) as Message });
    if (!begun) await meanwhile();
    begun = true;
  }
  stop.abort();
  await reader.cancel();
  return events;
}
const kinds = (events: Awaited<ReturnType<typeof heard>>) =>
  events.map(({ message: { type, data } }) => `${type} ${data.changeSet.repository} ${data.changeSet.number}`);

describe("the stream of events", () => {
  it("tells of what comes from now on, in the shape of webhooks, and of nothing that one may not see", async () => {
    const events = await heard("ben", null, 2, async () => {
      value(await bench.open("ada", "secret", "pier"));
      value(await bench.do("ada", "quay", 1, { kind: "draft" }));
      value(await bench.do("ada", "quay", 1, { kind: "ready" }));
    });
    expect(kinds(events)).toEqual(["change-set.drafted quay 1", "change-set.readied quay 1"]);
    expect(events[1].message.data).toMatchObject({
      ...{ event: events[1].id, by: "ada Example" },
      changeSet: { address: "http://lens.example/r/quay/c/1", state: "open" },
    });
  });

  it("goes on behind any event, so that who was cut off misses nothing", async () => {
    const all = await bench.app.db.selectFrom("events").select("id").orderBy("id").execute();
    const rest = await heard("ada", all[0].id, 3);
    expect(kinds(rest)).toEqual([
      "change-set.opened secret 1",
      "change-set.drafted quay 1",
      "change-set.readied quay 1",
    ]);
    expect(kinds(await heard("ada", rest[1].id, 1))).toEqual(["change-set.readied quay 1"]);
    const person = bench.people.get("ada")!;
    const wrong = { after: "nothing", address: "", signal: new AbortController().signal, still: async () => true };
    expect(await streamOf(bench.app, person, wrong)).toMatchObject({ ok: false, refusal: { code: "missing" } });
  });

  it("ends for who may not any more, and gives their place back", async () => {
    const { id } = await bench.app.db.selectFrom("events").select("id").orderBy("id").executeTakeFirstOrThrow();
    value(await setRole(bench.app, "ben", "quay", null));
    const person = bench.people.get("ben")!;
    for (let i = 0; i < 40; i++) {
      let asked = 0;
      const still = async () => ++asked < 2;
      const signal = new AbortController().signal;
      const response = await streamOf(bench.app, person, { after: id, address: "", signal, still });
      if (!(response instanceof Response)) throw new Error(reason(response));
      // Nothing of a repository in which one has no role; then nothing at all.
      expect(await response.text()).toMatch(/^: listening\n\n$/);
    }
  });
});
