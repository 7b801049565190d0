import { afterAll, beforeAll, describe, expect } from "vitest";
import { USUAL_WISHES, type Wishes } from "@/core/doors/news/wishes";
import { story } from "@/server/testing/story";
import { setRole } from "../access/people";
import { Bench, reason, value } from "../testing/bench";
import { Mail } from "./mail";
import { arrivedFor, arrivedMessage, type StandIn, startStandIn } from "./mail-standin";
import { Notices, noticesOf } from "./notices";
import { keepWishes } from "./wishes";

const it = story();

let bench: Bench;
let standIn: StandIn;
let mail: Mail;
let notices: Notices;
let folder: string;
let seen = 0;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "tariff/a.txt": "one\n", "plan.txt": "x\n" }],
    topic: [{ "tariff/a.txt": "two\n" }],
    pier: [{ "plan.txt": "y\n" }],
  });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben", "kit"]) await bench.person(name, { quay: "contributor" });
  folder = `${bench.folder}/mail`;
  standIn = await startStandIn(folder, 0);
  mail = new Mail(bench.app, {
    server: standIn.server,
    from: "lens@x.example",
    address: "http://lens.example",
    quiet: 0,
  });
  notices = new Notices(bench.app);
  await mail.step();
  await notices.step();
});
it.beforeEach(async () => {
  seen = (await arrivedFor(folder, null)).length;
});
afterAll(async () => {
  await mail.stop();
  await standIn.close();
  await bench.clear();
});

const person = (name: string) => bench.people.get(name)!;
const wish = async (name: string, part: Partial<Wishes>) =>
  value(await keepWishes(bench.app, person(name), { ...USUAL_WISHES, ...part }));
const mailed = async () =>
  (await arrivedFor(folder, null)).slice(0, (await arrivedFor(folder, null)).length - seen).map(({ to }) => to);
const noticed = async (name: string) =>
  (await noticesOf(bench.app, person(name))).groups.flatMap(({ notices: all }) => all.map(({ why }) => why));
const happen = async () => {
  await mail.step();
  await notices.step();
};

describe("what somebody wants to hear", () => {
  it("follows a path or a person beyond one's own, of what one may see", async () => {
    await wish("kit", { paths: [{ repository: "quay", pattern: "tariff/**" }] });
    await wish("ben", { ways: { ...USUAL_WISHES.ways, followed: "mail" }, people: ["ada"] });
    value(await bench.open("ada", "quay", "topic"));
    await happen();
    expect(await mailed()).toEqual(["ben Example"]);
    expect(await noticed("kit")).toEqual(["You follow its author, or a path in it."]);
    value(await bench.open("ada", "quay", "pier"));
    await happen();
    expect(await noticed("kit")).toHaveLength(1);
    expect(reason(await keepWishes(bench.app, person("ben"), { ...USUAL_WISHES, people: ["nobody"] }))).toMatch(
      /nobody of the name/,
    );
    expect(
      reason(
        await keepWishes(bench.app, person("ben"), { ...USUAL_WISHES, paths: [{ repository: "x", pattern: "a" }] }),
      ),
    ).toMatch(/no repository/);
    // Who lost the right to see it hears nothing of it.
    value(await setRole(bench.app, "kit", "quay", null));
    value(await bench.do("ada", "quay", 1, { kind: "withdraw" }));
    value(await bench.do("ada", "quay", 1, { kind: "open-again" }));
    await happen();
    value(await setRole(bench.app, "kit", "quay", "contributor"));
    expect(await noticed("kit")).toHaveLength(1);
  });

  it("comes by mail and on the page, on the page only, or not at all", async () => {
    await wish("ben", {});
    const said = (remark: string) =>
      bench.do("kit", "quay", 1, { kind: "send-review", revision: 1, verdict: "none", remark });
    await wish("ada", { ways: { ...USUAL_WISHES.ways, said: "page" } });
    value(await said("One."));
    await happen();
    expect(await mailed()).toEqual([]);
    const before = (await noticed("ada")).length;
    expect(before).toBeGreaterThan(0);
    await wish("ada", { ways: { ...USUAL_WISHES.ways, said: "neither" } });
    value(await said("Two."));
    await happen();
    expect([await mailed(), (await noticed("ada")).length]).toEqual([[], before]);
  });

  it("is less where a repository is wanted less of, and never of one that one may not see", async () => {
    await wish("ben", {});
    const said = (remark: string) =>
      bench.do("kit", "quay", 1, { kind: "send-review", revision: 1, verdict: "none", remark });
    await wish("ada", { less: [{ repository: "quay", way: "page" }] });
    const before = (await noticed("ada")).length;
    value(await said("Three."));
    await happen();
    expect([await mailed(), (await noticed("ada")).length]).toEqual([[], before + 1]);
    await wish("ada", { less: [{ repository: "quay", way: "neither" }] });
    value(await said("Four."));
    await happen();
    expect([await mailed(), (await noticed("ada")).length]).toEqual([[], before + 1]);
    await wish("ada", {});
    value(await said("Five."));
    await happen();
    expect(await mailed()).toEqual(["ada Example"]);
    const less = [{ repository: "hidden", way: "page" as const }];
    expect(reason(await keepWishes(bench.app, person("ada"), { ...USUAL_WISHES, less }))).toMatch(/no repository/);
  });

  it("waits for the end of a quiet time, and comes as one where one mail a day is wanted", async () => {
    const now = bench.app.now;
    let later = 0;
    bench.app.now = () => now() + later;
    const clock = (minutes: number) => new Date(now() + later + minutes * 60_000).toISOString().slice(11, 16);
    const said = (remark: string) =>
      bench.do("kit", "quay", 1, { kind: "send-review", revision: 1, verdict: "none", remark });
    await wish("ada", { quiet: { from: clock(-5), to: clock(60) } });
    value(await said("In the night."));
    await happen();
    expect(await mailed()).toEqual([]);
    later += 3_600_000;
    await happen();
    expect(await mailed()).toEqual(["ada Example"]);
    await wish("ada", { digest: clock(120) });
    seen++;
    value(await said("First."));
    await happen();
    value(await said("Second."));
    await happen();
    expect(await mailed()).toEqual([]);
    later += 2 * 3_600_000 + 60_000;
    await happen();
    expect(await mailed()).toEqual(["ada Example"]);
    const [digest] = await arrivedFor(folder, null);
    expect(digest.subject).toBe("2 things since yesterday");
    expect(value(await arrivedMessage(folder, digest.id, null)).text).toMatch(/First\.[\s\S]*Second\./);
    later += 26 * 3_600_000;
    await happen();
    expect(await mailed()).toHaveLength(1);
    bench.app.now = now;
  });

  it("says to who asked for a merge that it fell, and why they are told", async () => {
    await bench.person("mo", { quay: "keeper" });
    value(await bench.do("mo", "quay", 2, { kind: "merge-when-open", revision: 1, how: "merge", message: null }));
    await happen();
    expect(await noticed("mo")).toEqual([]);
    value(await bench.do("ada", "quay", 2, { kind: "describe", title: "Otherwise", description: "" }));
    await happen();
    expect(await noticed("mo")).toEqual(["You asked that it be merged."]);
    const [{ id }] = await arrivedFor(folder, null);
    expect(value(await arrivedMessage(folder, id, null)).text).toMatch(/It is not merged by itself any more/);
  });
});
