import { readFileSync, writeFileSync } from "node:fs";
import { createServer, type RequestListener, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import { toJsonSchema } from "@valibot/to-json-schema";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { foundItems, itemNews, madeItem, newItem } from "@/core/doors/tracker/protocol";
import { story } from "@/server/testing/story";
import { EventHandlers } from "../merging/event-handlers";
import { Bench, reason, value } from "../testing/bench";
import { trackerOf } from "./tracker-of";
import { startTrackerStandIn, type TrackerStandIn } from "./tracker-standin";

const it = story();

/** Work items that a tracker of others keeps, asked by HTTP for real. */
let bench: Bench;
let standIn: TrackerStandIn;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "one\n" }],
    one: [{ "b.txt": "1\n" }],
    two: [{ "c.txt": "2\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "keeper" });
  await bench.person("ben", { quay: "contributor" });
  standIn = await startTrackerStandIn({ token: "secret" });
  bench.app.settings.tracker = { address: standIn.address, token: "secret" };
});
afterAll(async () => {
  await standIn.close();
  await bench.clear();
});

const APPROVAL = {
  kind: "send-review",
  revision: 1,
  verdict: "approve",
  remark: "",
  remarks: [],
  tasks: [],
  replies: [],
} as const;
const ada = () => bench.people.get("ada")!;
const tracker = () => trackerOf(bench.app, { id: "any", name: "quay" });

/** Another tracker in its place, while something is done. */
async function withAnother<T>(answer: RequestListener, what: () => Promise<T>): Promise<T> {
  const before = bench.app.settings.tracker;
  const server: Server = createServer(answer);
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  bench.app.settings.tracker = { address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, token: null };
  try {
    return await what();
  } finally {
    bench.app.settings.tracker = before;
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  }
}

describe("a tracker elsewhere", () => {
  it("is written to, searched and asked by names; what is no name of an item is not asked for", async () => {
    const first = value(await tracker().add(ada(), { title: " Ships wait ", body: "For *days*." }));
    const second = value(await tracker().add(ada(), { title: "Paint the crane", body: "" }));
    expect(value(await tracker().find("DAYS"))).toMatchObject([
      { item: first, title: "Ships wait", person: "ada Example", address: `${standIn.address}/browse/${first}` },
    ]);
    expect(value(await tracker().named([second, "../../secrets", "NO-1"])).map(({ item }) => item)).toEqual([second]);
    expect(value(await tracker().named(["a b"]))).toEqual([]);
    value(await tracker().setState(ada(), second, "done"));
    expect(value(await tracker().find("")).map(({ item, state }) => [item, state])).toEqual([
      [first, "open"],
      [second, "done"],
    ]);
    expect(reason(await tracker().setState(ada(), "NO-1", "done"))).toMatch(/no such work item/);
    expect(reason(await tracker().add(ada(), { title: "  ", body: "" }))).toMatch(/needs a title/);
  });

  it("is told of what is merged, by names that are no numbers too; and again, where it was away", async () => {
    const eventHandlers = new EventHandlers(bench.app);
    await eventHandlers.step();
    value(await bench.open("ada", "quay", "one"));
    value(await bench.do("ada", "quay", 1, { kind: "link", item: "HARBOUR-1", closes: true }));
    value(await bench.do("ada", "quay", 1, { kind: "link", item: "HARBOUR-2", closes: false }));
    value(await bench.do("ben", "quay", 1, APPROVAL));
    value(await bench.do("ada", "quay", 1, { kind: "merge", revision: 1, message: "Merge" }));
    standIn.told.length = 0;
    await withAnother(
      (_, response) => response.writeHead(503).end(),
      () => eventHandlers.step(),
    );
    expect(standIn.told).toEqual([]);
    bench.pass(60_000);
    await eventHandlers.step();
    await eventHandlers.step();
    expect(standIn.told.map(({ item, news }) => [item, news.kind === "merged" && news.closes])).toEqual([
      ["HARBOUR-1", true],
      ["HARBOUR-2", false],
    ]);
    expect(standIn.told[0].news).toMatchObject({
      change: { number: 1, title: "Take one", address: "http://localhost:0/r/quay/c/1" },
    });
    expect(value(await tracker().named(["HARBOUR-1"]))).toMatchObject([{ state: "done", closedBy: 1 }]);
  });

  it("holds nothing else up while it refuses or is away", async () => {
    const eventHandlers = new EventHandlers(bench.app);
    await eventHandlers.step();
    value(await bench.open("ada", "quay", "two"));
    value(await bench.do("ada", "quay", 2, { kind: "link", item: "GONE-9", closes: true }));
    value(await bench.do("ben", "quay", 2, APPROVAL));
    value(await bench.do("ada", "quay", 2, { kind: "merge", revision: 1, message: "Merge" }));
    await eventHandlers.step();
    expect((await bench.change("quay", 2)).change.state).toBe("merged");
  });

  it("is told of in a sentence where it is slow, leads elsewhere, or says what nobody can use", async () => {
    const item = { item: "A-1", title: "x", state: "open", changedAt: 1, address: "javascript:alert(1)" };
    const answers: [RequestListener, RegExp][] = [
      [(_, response) => void response.write("{"), /longer than 5/],
      [(_, response) => response.writeHead(302, { location: "http://127.0.0.1:1/" }).end(), /cannot be asked now/],
      [(_, response) => response.end("<html>"), /none that is known/],
      [(_, response) => response.end(`"${"x".repeat(3_000_000)}"`), /too long/],
      [
        (_, response) => response.end(JSON.stringify({ items: [item] })),
        /none that is known here \(items\.0\.address\)/,
      ],
      [(_, response) => response.writeHead(400).end('{"reason":"Not today."}'), /refused it: Not today\./],
      [(_, response) => response.writeHead(500).end(), /it answered 500/],
    ];
    for (const [answer, sentence] of answers)
      expect(reason(await withAnother(answer, () => tracker().find("")))).toMatch(sentence);
  });

  it("wants its token, and nobody else's", async () => {
    bench.app.settings.tracker = { address: standIn.address, token: "wrong" };
    expect(reason(await tracker().find(""))).toMatch(/refused it: Show the token/);
    bench.app.settings.tracker = { address: "http://127.0.0.1:59871", token: null };
    expect(reason(await tracker().find(""))).toMatch(/cannot be asked now: .*ECONNREFUSED/);
  });

  it("is described by the schema that docs/tracker.md names", () => {
    const file = join(process.env.LENS_ROOT ?? process.cwd(), "docs/tracker.schema.json");
    const defs = Object.fromEntries(
      Object.entries({ foundItems, newItem, madeItem, itemNews }).map(([name, shape]) => {
        const { $schema: _, ...made } = toJsonSchema(shape, { typeMode: "input" });
        return [name, made];
      }),
    );
    const schema = {
      $schema: "https://json-schema.org/draft/2020-12/schema",
      title: "What Earnest Lens and a tracker of work items say to each other",
      $defs: defs,
    };
    if (process.env.LENS_WRITE_SCHEMAS) writeFileSync(file, `${JSON.stringify(schema, null, 2)}\n`);
    expect(JSON.parse(readFileSync(file, "utf8"))).toEqual(JSON.parse(JSON.stringify(schema)));
  });
});
