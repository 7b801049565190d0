import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { createTransport } from "nodemailer";
import { afterAll, beforeAll, describe, expect } from "vitest";
import { newest } from "@/core/review/state";
import { story } from "@/server/testing/story";
import { setRole } from "../access/people";
import { findRepository } from "../access/repositories";
import { listenForMail } from "../news/mail-listener";
import { arrivedFor, arrivedMessage, type StandIn, startStandIn } from "../news/mail-standin";
import { Bench, value } from "../testing/bench";
import { patchAddress } from "./patch-address";

const it = story();

/** A series by mail, made by `git format-patch` and sent as `git send-email` does: each file a mail, as it is. */
let bench: Bench;
let standIn: StandIn;
let listener: { port: number; close: () => Promise<void> };
let work: string;
let to: string;

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", { main: [{ "a.txt": "one\ntwo\nthree\n" }] });
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("rea", { quay: "reader" });
  standIn = await startStandIn(join(bench.folder, "mail"), 0);
  Object.assign(bench.app.settings, { mail: standIn.server, mailAnswers: "answers@lens.example" });
  listener = await listenForMail(bench.app, 0);
  to = (await patchAddress(bench.app, bench.people.get("ada")!, (await findRepository(bench.app.db, "quay"))!))!;
});
afterAll(async () => {
  await listener.close();
  await standIn.close();
  await bench.clear();
});

async function commit(text: string, message: string): Promise<void> {
  await bench.commit(work, message, { "a.txt": text });
}

let made = 0;
async function series(range: string, ...args: string[]): Promise<string[]> {
  const folder = join(bench.folder, `patches-${++made}`);
  await bench.git(
    work,
    "-c",
    "user.name=Ada",
    "-c",
    "user.email=ada@x.example",
    "format-patch",
    "--quiet",
    "--thread",
    "-o",
    folder,
    ...args,
    range,
  );
  return readdirSync(folder)
    .sort()
    .map((name) => readFileSync(join(folder, name), "latin1"));
}

async function send(mails: readonly string[], by = "ada@x.example", address = to): Promise<string[]> {
  const transport = createTransport({ host: "127.0.0.1", port: listener.port, secure: false, ignoreTLS: true });
  const said: string[] = [];
  for (const mail of mails) {
    const raw = mail.replace(/^From [^\n]*\n/, "").replace(/^From: .*$/m, `From: Ada <${by}>`);
    await transport.sendMail({ raw: Buffer.from(raw, "latin1"), envelope: { from: by, to: address } }).then(
      () => said.push(""),
      (error: Error) => said.push(error.message),
    );
  }
  transport.close();
  return said;
}
const answer = async () => {
  const [last] = await arrivedFor(join(bench.folder, "mail"), null);
  return last ? value(await arrivedMessage(join(bench.folder, "mail"), last.id, null)).text : "";
};
const change = async () => (await bench.change("quay", 1)).change;

describe("patches by mail", () => {
  it("become a change set once the series is whole, in whatever order its mails come", async () => {
    await bench.git(work, "checkout", "--quiet", "-b", "topic");
    await commit("one\n2\nthree\n", "Say two as a number");
    await commit("one\n2\n3\n", "Say three as a number\n\nFor the same reason.");
    const mails = await series("main..topic", "--cover-letter", "--base=main");
    mails[0] = mails[0]
      .replace("*** SUBJECT HERE ***", "Numbers everywhere")
      .replace("*** BLURB HERE ***", "They are shorter.");
    expect(await send([mails[2], mails[0]])).toEqual(["", ""]);
    expect(await bench.app.db.selectFrom("change_sets").select("id").execute()).toEqual([]);
    await send([mails[1]]);
    const now = await change();
    expect(now).toMatchObject({
      title: "Numbers everywhere",
      description: "They are shorter.",
      source: "mail/ada/numbers-everywhere",
    });
    expect(now.author).toBe(bench.people.get("ada")!.id);
    const { folder } = await bench.change("quay", 1);
    expect(await bench.git(folder, "log", "--format=%an|%s", "main..mail/ada/numbers-everywhere")).toBe(
      "Ada|Say three as a number\nAda|Say two as a number",
    );
    expect(await answer()).toMatch(/Change set 1: .*\/r\/quay\/c\/1/);
    expect(readdirSync(join(bench.app.settings.data, "incoming", "series"))).toEqual([]);
  });

  it("are the next revision when a next version comes, known by its title or by a patch in it", async () => {
    await commit("one\nII\n3\n", "Roman after all");
    const second = await series("main..topic", "-v2", "--cover-letter");
    await send(second.map((mail) => mail.replace("*** SUBJECT HERE ***", "Numbers everywhere")));
    expect((await change()).revisions).toHaveLength(2);
    expect(await answer()).toMatch(/r2 of change set 1/);
    // Another title, and the same first patch.
    await commit("I\nII\n3\n", "All of them");
    await send(
      (await series("main..topic", "-v3", "--cover-letter")).map((mail) =>
        mail.replace("*** SUBJECT HERE ***", "Roman numbers"),
      ),
    );
    expect(newest(await change()).number).toBe(3);
  });

  it("are told why they cannot be, and leave nothing: what does not apply, leaves the tree, or is no patch", async () => {
    const before = (await bench.git((await bench.change("quay", 1)).folder, "for-each-ref")).length;
    const [mail] = await series("topic~1..topic");
    await send([mail.replace("-one", "-never there").replace(/index \w+\.\.\w+/, "index 1111111..2222222")]);
    expect(await answer()).toMatch(/It does not apply: [\s\S]*Nothing of the series was taken/);
    const outside = mail.replaceAll("a/a.txt", "a/../../evil.txt").replaceAll("b/a.txt", "b/../../evil.txt");
    await send([outside]);
    expect(await answer()).toMatch(/It does not apply/);
    await send([mail.replaceAll("a/a.txt", "a/.git/config").replaceAll("b/a.txt", "b/.git/config")]);
    expect(await answer()).toMatch(/It does not apply/);
    await send([mail.replace("[PATCH] ", "")]);
    expect(await answer()).toMatch(/is no patch/);
    expect((await bench.git((await bench.change("quay", 1)).folder, "for-each-ref")).length).toBe(before);
    expect((await bench.git((await bench.change("quay", 1)).folder, "worktree", "list")).split("\n")).toHaveLength(1);
  });

  it("come from who may push, at their own address and from their own", async () => {
    const [mail] = await series("topic~1..topic");
    const rea = bench.people.get("rea")!;
    const hers = (await patchAddress(bench.app, rea, (await findRepository(bench.app.db, "quay"))!))!;
    expect(await send([mail], "rea@x.example", hers)).toEqual([expect.stringMatching(/550/)]);
    const revisions = (await change()).revisions.length;
    expect(await send([mail.replace("All of them", "Another")], "eve@x.example")).toEqual([""]);
    value(await setRole(bench.app, "ada", "quay", null));
    expect(await send([mail])).toEqual([expect.stringMatching(/550/)]);
    value(await setRole(bench.app, "ada", "quay", "contributor"));
    expect((await change()).revisions).toHaveLength(revisions);
    expect(await bench.app.db.selectFrom("change_sets").select("id").execute()).toHaveLength(1);
  });
});
