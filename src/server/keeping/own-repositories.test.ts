import { afterAll, beforeAll, expect } from "vitest";
import { roleOf, setRole } from "@/server/access/people";
import { findRepository, isBegun } from "@/server/access/repositories";
import { Bench, reason, value } from "@/server/testing/bench";
import { story } from "@/server/testing/story";
import { auditEntries, COMMAND_LINE } from "../access/audit";
import { readSettings } from "../app/settings";
import { makeOwn, namesToMake } from "./own-repositories";
import { changeRepository } from "./repositories";

const it = story();
let bench: Bench;

beforeAll(async () => {
  bench = await Bench.set();
  await bench.takeIn("quay", await bench.repository("quay", { main: [{ "a.txt": "one\n" }] }));
  await bench.person("kit", { quay: "keeper" });
  await bench.person("ada", { quay: "contributor" });
  await bench.person("gauge", { quay: "keeper" }, { machine: true });
});
afterAll(() => bench.clear());

const make = (by: string, name: string) => {
  const person = bench.people.get(by)!;
  return makeOwn(bench.app, person, { person: person.id, address: "192.0.2.1" }, { name });
};
const says = (names: string | null) => Object.assign(bench.app.settings, { keepersMake: names });

it("makes none but for administrators, unless the installation says so", async () => {
  expect(reason(await make("kit", "pilot"))).toContain("ask one of them");
  expect(await namesToMake(bench.app, { ...bench.people.get("ada")!, administrator: true })).toBe("*");
});

it("lets a keeper make an empty one under a fitting name, which they then keep", async () => {
  says("harbour-*");
  expect(value(await make("kit", "harbour-pilot"))).toEqual({ name: "harbour-pilot" });
  const made = await findRepository(bench.app.db, "harbour-pilot");
  expect(await roleOf(bench.app.db, bench.people.get("kit")!.id, made!.id)).toBe("keeper");
  expect(await isBegun(bench.app, made!)).toBe(false);
  expect(await isBegun(bench.app, (await findRepository(bench.app.db, "quay"))!)).toBe(true);
  // Nobody else is let in by that.
  expect(await roleOf(bench.app.db, bench.people.get("ada")!.id, made!.id)).toBeNull();
  const [last] = await auditEntries(bench.app, { most: 1 });
  expect(last).toMatchObject({ what: "repository-added", person: "kit" });
});

it("refuses other people, other names and names that are taken, and says nothing of repositories that one may not see", async () => {
  says("harbour-*");
  expect(reason(await make("ada", "harbour-mine"))).toContain("ask one of them");
  expect(reason(await make("gauge", "harbour-mine"))).toContain("ask one of them");
  expect(reason(await make("kit", "quay"))).toContain("“harbour-*”");
  expect(reason(await make("kit", "quay"))).toBe(reason(await make("kit", "nope")).replace("nope", "quay"));
  expect(reason(await make("kit", "harbour-pilot"))).toContain("already");
  expect(reason(await make("kit", "harbour-Tide"))).toContain("cannot be the name");
});

it("ends with the role: who keeps nothing any more makes nothing", async () => {
  says("*");
  await bench.person("lou", { quay: "keeper" });
  expect(await namesToMake(bench.app, bench.people.get("lou")!)).toBe("*");
  value(await setRole(bench.app, "lou", "quay", "contributor"));
  expect(await namesToMake(bench.app, bench.people.get("lou")!)).toBeNull();
  // A deleted repository makes no keepers.
  value(await changeRepository(bench.app, COMMAND_LINE, "quay", { kind: "delete", name: "quay" }));
  value(await changeRepository(bench.app, COMMAND_LINE, "harbour-pilot", { kind: "delete", name: "harbour-pilot" }));
  expect(reason(await make("kit", "harbour-buoy"))).toContain("ask one of them");
});

it("takes the rule from the environment, and refuses what is no pattern", () => {
  expect(value(readSettings({ LENS_KEEPERS_MAKE: "harbour-*" })).keepersMake).toBe("harbour-*");
  expect(value(readSettings({})).keepersMake).toBeNull();
  expect(reason(readSettings({ LENS_KEEPERS_MAKE: "(a+)+" }))).toContain("LENS_KEEPERS_MAKE");
});
