import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect } from "vitest";
import type { HookRequest } from "@/core/views/hooks-view";
import { story } from "@/server/testing/story";
import { setRole } from "../access/people";
import { Bench, reason, value } from "../testing/bench";
import { isWithin, lookupOutside } from "./allowed-address";
import { Deliveries } from "./deliveries";
import { deliveriesOf, dropHook, hooksOf, makeHook, sendAgain } from "./hooks";
import { post } from "./post";

const it = story();

let bench: Bench;
let deliveries: Deliveries;
let server: Server;
let url: string;
let answers: (request: IncomingMessage, response: ServerResponse) => void;
const got: { body: string; headers: Record<string, string> }[] = [];

beforeAll(async () => {
  bench = await Bench.set();
  // Who verifies a signature goes by their own clock.
  bench.app.now = Date.now;
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "one\n" }],
    topic: [{ "a.txt": "two\n" }],
    pier: [{ "b.txt": "two\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  value(await bench.open("ada", "quay", "topic"));
  value(await bench.open("ada", "quay", "pier"));
  server = createServer((request, response) => {
    let body = "";
    request.on("data", (chunk) => (body += chunk));
    request.on("end", () => {
      got.push({ body, headers: request.headers as Record<string, string> });
      answers(request, response);
    });
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const at = server.address();
  url = `http://127.0.0.1:${typeof at === "object" && at ? at.port : 0}/hook`;
  deliveries = new Deliveries(bench.app, { address: "http://lens.example", within: true });
  await deliveries.step();
});
it.beforeEach(() => {
  got.length = 0;
  answers = (_, response) => response.writeHead(200).end("thanks");
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await bench.clear();
});

const kit = () => bench.people.get("kit")!;
const doer = { person: null, address: "test" };
const make = (asked: HookRequest) => makeHook(bench.app, kit(), doer, "quay", asked);
const say = async (body: string, number = 1) =>
  value(await bench.do("ben", "quay", number, { kind: "send-review", revision: 1, verdict: "none", remark: body }));

describe("webhooks", () => {
  let secret: string;
  let hook: string;

  it("are told what happens, signed, by kind", async () => {
    const made = value(await make({ url, kinds: ["reviewed", "merged"] }));
    secret = made.secret;
    hook = made.hooks[0].id;
    await say("First.");
    value(await bench.do("ada", "quay", 1, { kind: "describe", title: "Otherwise", description: "" }));
    await deliveries.step();
    expect(got).toHaveLength(1);
    const told = new Webhook(secret).verify(got[0].body, got[0].headers) as Record<string, Record<string, unknown>>;
    expect(told).toMatchObject({
      type: "change-set.reviewed",
      data: {
        ...{ by: "ben Example", says: "a word of ben Example" },
        changeSet: { repository: "quay", number: 1, revision: 1, address: "http://lens.example/r/quay/c/1" },
      },
    });
    expect(() => new Webhook(secret).verify(got[0].body.replace("quay", "pier"), got[0].headers)).toThrow();
    expect(JSON.stringify(value(await hooksOf(bench.app, kit(), "quay")))).not.toContain(secret);
    await deliveries.step();
    expect(got).toHaveLength(1);
  });

  it("of all repositories hear of each of them, those that come later too, once; and are for administrators", async () => {
    const root = { ...kit(), administrator: true };
    const all = value(await makeHook(bench.app, root, doer, null, { url: `${url}/all`, kinds: ["opened"] }));
    const work = await bench.repository("later", { main: [{ "a.txt": "1\n" }], topic: [{ "a.txt": "2\n" }] });
    await bench.takeIn("later", work);
    value(await setRole(bench.app, "ada", "later", "contributor"));
    value(await bench.open("ada", "later", "topic"));
    await deliveries.step();
    expect(got.map(({ body }) => JSON.parse(body).data.changeSet.repository)).toEqual(["later"]);
    expect(() => new Webhook(all.secret).verify(got[0].body, got[0].headers)).not.toThrow();
    expect(value(await hooksOf(bench.app, kit(), "quay")).map(({ id }) => id)).toEqual([hook]);
    const [{ id }] = all.hooks;
    for (const refused of [
      await hooksOf(bench.app, kit(), null),
      await makeHook(bench.app, kit(), doer, null, { url, kinds: [] }),
      await dropHook(bench.app, kit(), doer, "quay", id),
      await deliveriesOf(bench.app, kit(), null, id),
      await sendAgain(bench.app, kit(), "quay", id, "any"),
    ])
      expect(reason(refused)).toMatch(/no such webhook|nothing here that you may see/);
    value(await dropHook(bench.app, root, doer, null, id));
    expect(await bench.app.db.selectFrom("deliveries").select("id").where("hook", "=", id).execute()).toEqual([]);
  });

  it("lose nothing to a receiver that fails for hours, and keep the order of each change set", async () => {
    answers = (_, response) => response.writeHead(503).end("away");
    const now = bench.app.now;
    let later = 0;
    bench.app.now = () => now() + later;
    await say("Second.");
    await say("Third.");
    await say("Elsewhere.", 2);
    for (let hour = 0; hour < 6; hour++) {
      await deliveries.step();
      later += 3_600_000;
    }
    // Of each change set only the first is tried: what comes after it waits.
    const bodies = () => got.map(({ body }) => JSON.parse(body).data.changeSet.number);
    expect(new Set(bodies())).toEqual(new Set([1, 2]));
    expect(new Set(got.map(({ headers }) => headers["webhook-id"])).size).toBe(2);
    const [view] = value(await hooksOf(bench.app, kit(), "quay"));
    expect(view.waiting).toBe(3);
    expect(value(await deliveriesOf(bench.app, kit(), "quay", hook))[0]).toMatchObject({
      answer: "503 away",
      doneAt: null,
    });
    answers = (_, response) => response.writeHead(204).end();
    got.length = 0;
    for (let i = 0; i < 4; i++) {
      later += 24 * 3_600_000;
      await deliveries.step();
    }
    const events = got
      .filter(({ body }) => JSON.parse(body).data.changeSet.number === 1)
      .map(({ body }) => JSON.parse(body).data.event);
    expect(events).toEqual([...events].sort());
    expect(got).toHaveLength(3);
    bench.app.now = now;
  });

  it("reach others though thousands wait for a receiver that is away", async () => {
    const away = value(await make({ url: url.replace("/hook", "/away"), kinds: ["merged"] })).hooks.at(-1)!.id;
    const row = {
      hook: away,
      kind: "merged",
      body: "{}",
      at: 1,
      tries: 8,
      due_at: bench.app.now() + 9e8,
      done_at: null,
      answer: "",
    };
    for (let n = 0; n < 2_500; n += 250)
      await bench.app.db
        .insertInto("deliveries")
        .values(
          Array.from({ length: 250 }, (_, i) => ({
            id: `0${n + i}`,
            change_set: `c${(n + i) % 7}`,
            event: `e${n + i}`,
            ...row,
          })),
        )
        .execute();
    await say("Though.");
    await deliveries.step();
    expect(got.map(({ body }) => JSON.parse(body).type)).toEqual(["change-set.reviewed"]);
    value(await dropHook(bench.app, kit(), doer, "quay", away));
  });

  it("are given up in the end, and sent again by hand with the same id", async () => {
    answers = (_, response) => response.writeHead(410).end("gone");
    await say("Fourth.");
    await deliveries.step();
    const [last] = value(await deliveriesOf(bench.app, kit(), "quay", hook));
    expect(last).toMatchObject({ givenUp: true, answer: "410 gone", tries: 1 });
    answers = (_, response) => response.writeHead(200).end();
    value(await sendAgain(bench.app, kit(), "quay", hook, last.id));
    await deliveries.step();
    expect(got.map(({ headers }) => headers["webhook-id"])).toEqual([last.id, last.id]);
    expect(value(await deliveriesOf(bench.app, kit(), "quay", hook))[0]).toMatchObject({
      givenUp: false,
      doneAt: expect.any(Number),
    });
    expect(reason(await sendAgain(bench.app, kit(), "quay", hook, "nothing"))).toBe("There is no such message.");
  });

  it("are for keepers, and go away with what waits", async () => {
    const ben = bench.people.get("ben")!;
    expect(reason(await hooksOf(bench.app, ben, "quay"))).toMatch(/needs the role of keeper/);
    expect(reason(await make({ url: "ftp://x", kinds: [] }))).toMatch(/https/);
    expect(reason(await make({ url: "https://ada:x@x.example/", kinds: [] }))).toMatch(/Leave name and password/);
    value(await dropHook(bench.app, kit(), doer, "quay", hook));
    expect(value(await hooksOf(bench.app, kit(), "quay"))).toEqual([]);
    await say("Nobody hears.");
    await deliveries.step();
    expect(got).toEqual([]);
  });
});

describe("receivers", () => {
  it("within this network are not told, by whatever name or writing of their address", async () => {
    for (const address of [
      "127.0.0.1",
      "10.1.2.3",
      "172.20.0.1",
      "192.168.1.1",
      "169.254.169.254",
      "0.0.0.0",
      "::1",
      "fe80::1",
      "fd00::1",
      "::ffff:127.0.0.1",
      "nonsense",
    ])
      expect([address, isWithin(address)]).toEqual([address, true]);
    for (const address of ["93.184.216.34", "2606:2800:220:1::1", "172.32.0.1"])
      expect([address, isWithin(address)]).toEqual([address, false]);
    const port = new URL(url).port;
    for (const host of ["127.0.0.1", "2130706433", "0x7f.1", "[::1]", "[::ffff:7f00:1]", "localhost"]) {
      const { status, answer } = await post(new URL(`http://${host}:${port}/`), "{}", {}, false);
      expect([host, status, answer]).toEqual([host, null, expect.stringMatching(/within this network/)]);
    }
    expect(got).toEqual([]);
    const looked = await new Promise<string>((resolve) =>
      lookupOutside("localhost", {}, (error) => resolve(String(error))),
    );
    expect(looked).toMatch(/within this network/);
  });

  it("that redirect, never end or say nothing hold nothing up, and are not followed", async () => {
    answers = (_, response) => response.writeHead(302, { location: "http://127.0.0.1:1/elsewhere" }).end();
    expect(await post(new URL(url), "{}", {}, true)).toEqual({ status: 302, answer: "302" });
    expect(got).toHaveLength(1);
    answers = (_, response) => {
      response.writeHead(200);
      const timer = setInterval(() => response.write("x".repeat(10_000)), 5);
      response.on("close", () => clearInterval(timer));
    };
    const endless = await post(new URL(url), "{}", {}, true);
    expect(endless.status).toBe(200);
    expect(endless.answer.length).toBeLessThan(510);
    answers = (request) => request.socket.destroy();
    expect(await post(new URL(url), "{}", {}, true)).toMatchObject({ status: null });
  });
});
