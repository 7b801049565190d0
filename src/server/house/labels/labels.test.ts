import { afterAll, beforeAll, describe, expect } from "vitest";
import type { Label } from "@/core/house/labels/labels";
import { Preparing } from "../../reading/preparing";
import { Bench, reason, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { findChanges } from "../lists/find";
import { dropLabel, heldLabels, keepLabel, labelsFor, labelsSeen } from "./labels";

const it = story();

let bench: Bench;
let work: string;
beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("quay", {
    main: [{ "tariff/a.sql": "a\n", "b.txt": "b\n" }],
    rates: [{ "tariff/a.sql": "b\n" }],
    words: [{ "b.txt": "c\n" }],
  });
  await bench.takeIn("quay", work);
  await bench.takeIn("secret", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("kit", { quay: "keeper" });
  await bench.person("rea", { quay: "reader" });
  await bench.person("cy", { secret: "keeper" });
  value(await bench.open("ada", "quay", "rates"));
  value(await bench.open("ada", "quay", "words"));
  await prepared();
});
afterAll(() => bench.clear());

const doer = { person: null, address: "test" };
const who = (name: string) => bench.people.get(name)!;
const keep = (name: string, label: Partial<Label>) =>
  keepLabel(bench.app, who(name), doer, "quay", {
    ...{ name: "tariff", flag: "plain", about: "", paths: [] },
    ...label,
  });
const found = async (query: string, name = "ada") =>
  value(await findChanges(bench.app, who(name), `${query} sort:age`)).lines.map(({ number }) => number);
const held = async (number: number) => {
  const { id } = (await bench.change("quay", number)).change;
  return (await heldLabels(bench.app.db, [id]))
    .get(id)
    ?.map(({ name, byPath }) => `${name}${byPath ? " by path" : ""}`);
};
const label = (name: string, number: number, put: string[], take: string[] = []) =>
  bench.do(name, "quay", number, { kind: "label", put, take });

async function prepared() {
  const preparing = new Preparing(bench.app);
  for (let i = 0; i < 4; i++) await preparing.step();
  await preparing.stop();
}

describe("labels of a repository", () => {
  it("are named by keepers, and seen by whoever sees it", async () => {
    expect(reason(await keep("ada", {}))).toMatch(/keeper/);
    expect(value(await keep("kit", { about: "Prices" }))).toMatchObject([{ name: "tariff", about: "Prices" }]);
    expect(value(await keep("kit", { about: "What it costs", flag: "cross" }))).toHaveLength(1);
    expect(value(await labelsFor(bench.app, who("rea"), "quay"))).toMatchObject([
      { about: "What it costs", flag: "cross" },
    ]);
    expect((await labelsFor(bench.app, who("cy"), "quay")).ok).toBe(false);
    expect(await labelsSeen(bench.app, who("cy"))).toEqual([]);
    expect(await labelsSeen(bench.app, who("rea"))).toEqual(["tariff"]);
  });

  it("are given by hand to change sets, only where there is such a one, and found by them", async () => {
    expect(reason(await label("ada", 1, ["nothing-like-it"]))).toMatch(/There is no label nothing-like-it/);
    expect(reason(await label("rea", 2, ["tariff"]))).toMatch(/Only contributors/);
    value(await label("ada", 2, ["tariff"]));
    expect(await found("label:tariff")).toEqual([2]);
    expect(await found("label:none")).toEqual([1]);
    expect(await found("-label:tariff")).toEqual([1]);
    expect(await found("label:tariff", "cy")).toEqual([]);
    expect(await held(2)).toEqual(["tariff"]);
    value(await label("ada", 2, [], ["tariff"]));
    expect(await found("label:tariff")).toEqual([]);
  });

  it("come by paths: at once to what is there, later to what is pushed, and go with the rule", async () => {
    value(await keep("kit", { paths: ["tariff/**"] }));
    expect(await held(1)).toEqual(["tariff by path"]);
    expect(await found("label:tariff")).toEqual([1]);
    const { head } = (await bench.change("quay", 2)).change.revisions[0];
    await bench.git(work, "checkout", "--quiet", "words");
    await bench.commit(work, "more", { "tariff/new.sql": "x\n" });
    await bench.push("ada", "quay", "words", "refs/heads/words");
    await prepared();
    expect((await bench.change("quay", 2)).change.revisions.at(-1)!.head).not.toBe(head);
    expect(await held(2)).toEqual(["tariff by path"]);
    // Given by somebody, it stays when the path is none any more.
    value(await label("ada", 1, ["tariff"]));
    expect(await held(1)).toEqual(["tariff"]);
    value(await keep("kit", { paths: [] }));
    expect([await held(1), await held(2)]).toEqual([["tariff"], undefined]);
  });

  it("go from everywhere when they are taken away, and no log is touched", async () => {
    expect(reason(await dropLabel(bench.app, who("ada"), doer, "quay", "tariff"))).toMatch(/keeper/);
    expect(value(await dropLabel(bench.app, who("kit"), doer, "quay", "tariff"))).toEqual([]);
    expect(await held(1)).toBeUndefined();
    expect(await found("label:tariff")).toEqual([]);
    expect((await bench.change("quay", 1)).change.labels).toEqual(["tariff"]);
    value(await keep("kit", {}));
    expect(await held(1)).toEqual(["tariff"]);
  });
});
