import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { simpleParser } from "mailparser";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { USUAL_WISHES } from "@/core/doors/news/wishes";
import { story } from "@/server/testing/story";
import { saveRules } from "../rules/rules";
import { settleEdition } from "../rules/second-keeper";
import { Bench, value } from "../testing/bench";
import { Mail } from "./mail";
import { type StandIn, startStandIn } from "./mail-standin";
import { keepWishes } from "./wishes";

const it = story();

let bench: Bench;
let standIn: StandIn;
let folder: string;
let mail: Mail;
const who = (name: string) => bench.people.get(name)!;
const settingsOf = (server: string) => ({ server, from: "lens@x.example", address: "http://lens.example", quiet: 0 });

beforeAll(async () => {
  bench = await Bench.set();
  await bench.takeIn("quay", await bench.repository("quay", { main: [{ "a.txt": "a\n" }] }));
  await bench.person("ada", { quay: "contributor" });
  for (const name of ["kit", "mo", "lou"]) await bench.person(name, { quay: "keeper" });
  await bench.person("drone", { quay: "keeper" }, { machine: true, owner: "kit" });
  value(await keepWishes(bench.app, who("lou"), { ...USUAL_WISHES, ways: { ...USUAL_WISHES.ways, asked: "page" } }));
  value(await save("kit", 2));
  folder = join(bench.folder, "mail");
  standIn = await startStandIn(folder, 0);
  mail = new Mail(bench.app, settingsOf(standIn.server));
});
afterAll(async () => {
  await mail.stop();
  await standIn.close();
  await bench.clear();
});

const save = (by: string, count: number) =>
  saveRules(
    ...([bench.app, who(by), "quay"] as const),
    { seconded: true, rules: [{ branches: "main", approvals: { count } }] },
    "A <b>quiet</b> week",
    null,
  );
const arrived = () =>
  Promise.all(
    readdirSync(folder)
      .filter((name) => name.endsWith(".eml"))
      .sort()
      .map((name) => simpleParser(readFileSync(join(folder, name)))),
  );

describe("rules that wait for a second keeper", () => {
  it("are told of by mail, once, to whom they wait for, with what differs", async () => {
    await mail.step();
    expect(await arrived()).toEqual([]);
    const { version } = value(await save("kit", 0));
    await mail.step();
    await mail.step();
    // Not to who saved them, a machine, who keeps nothing, nor who wants no mail when they are asked.
    const [message, ...others] = await arrived();
    expect(others).toEqual([]);
    expect([message.to].flat().map((to) => to?.text)).toEqual([expect.stringContaining(who("mo").email)]);
    expect(message.subject).toBe(`[quay] Rules: edition ${version} waits for a second keeper`);
    expect(message.text).toContain(`${who("kit").fullName} changed the rules of quay.`);
    expect(message.text).toMatch(/> main, no longer: .*2 approvals/);
    expect(message.text).toContain("http://lens.example/r/quay/rules");
    // What a keeper wrote is text.
    expect(message.html).not.toContain("<b>quiet</b>");
    const doer = { person: who("mo").id, address: "" };
    value(await settleEdition(bench.app, who("mo"), "quay", version, false, doer));
    for (let i = 0; i < 2; i++) await mail.step();
    // And who saved them hears what became of it.
    const [, told, ...more] = await arrived();
    expect(more).toEqual([]);
    expect([told.to].flat().map((to) => to?.text)).toEqual([expect.stringContaining(who("kit").email)]);
    expect(told.subject).toBe(`[quay] Rules: edition ${version} was dropped`);
    expect(told.text).toContain(`${who("mo").fullName} dropped your edition of the rules of quay.`);
  });

  it("are sent when the mail server is back, and not any more when they wait for nobody", async () => {
    const away = new Mail(bench.app, settingsOf("smtp://127.0.0.1:9"));
    const { version } = value(await save("mo", 1));
    const waits = async () => {
      const rows = await bench.app.db.selectFrom("rule_messages").selectAll().where("version", "=", version).execute();
      return rows.find(({ person }) => person === who("kit").id);
    };
    await away.step();
    await away.stop();
    expect(await waits()).toMatchObject({ tries: 1, sent_at: null, problem: expect.stringContaining("ECONNREFUSED") });
    await bench.app.db.updateTable("rule_messages").set({ due_at: 0 }).execute();
    value(await settleEdition(bench.app, who("kit"), "quay", version, true, { person: who("kit").id, address: "" }));
    const before = (await arrived()).length;
    await mail.step();
    // Nothing goes to whom it waited for: who saved it hears that it counts.
    const [outcome, ...others] = (await arrived()).slice(before);
    expect([outcome.subject, others]).toEqual([`[quay] Rules: edition ${version} counts`, []]);
    expect([outcome.to].flat().map((to) => to?.text)).toEqual([expect.stringContaining(who("mo").email)]);
    expect((await waits())?.sent_at).not.toBeNull();
    // One that the server took on another try is sent once.
    const next = value(await save("mo", 3));
    const off = new Mail(bench.app, settingsOf("smtp://127.0.0.1:9"));
    await off.step();
    await off.stop();
    await bench.app.db.updateTable("rule_messages").set({ due_at: 0 }).execute();
    for (let i = 0; i < 2; i++) await mail.step();
    const told = (await arrived()).slice(before + 1).map(({ subject }) => subject);
    expect(told).toEqual([`[quay] Rules: edition ${next.version} waits for a second keeper`]);
  });
});
