import { afterAll, beforeAll, expect } from "vitest";
import { Bench, reason, value } from "../testing/bench";
import { story } from "../testing/story";
import { chooseHue, dropPicture, keepPicture, pictureOf, portraitsOf } from "./portraits";

const it = story();
const PNG = Buffer.from("89504e470d0a1a0a0000000d49484452", "hex");

let bench: Bench;
beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", { main: [{ "a.txt": "a\n" }] });
  await bench.takeIn("quay", work);
  for (const name of ["ada", "ben"]) await bench.person(name, { quay: "contributor" });
  await bench.person("far");
});
afterAll(() => bench.clear());

const who = (name: string) => bench.people.get(name)!;

it("draws each by a colour of their own until they choose another", async () => {
  const drawn = await portraitsOf(bench.app.db, [who("ada"), who("ben")]);
  expect(drawn.get(who("ada").id)).toEqual({ hue: expect.any(Number), picture: null });
  expect(value(await chooseHue(bench.app, who("ada"), 5))).toEqual({ hue: 5, picture: null });
  expect(reason(await chooseHue(bench.app, who("ada"), 99))).toMatch(/no such colour/);
});

it("shows a picture to who shares a repository alone, and goes by its bytes", async () => {
  expect(reason(await keepPicture(bench.app, who("ada"), Buffer.from("<svg onload=x>")))).toMatch(/not an image/);
  const { hue, picture } = value(await keepPicture(bench.app, who("ada"), PNG));
  expect([hue, picture]).toEqual([5, expect.stringMatching(/^\/api\/people\/ada\/picture\?at=\d+$/)]);
  expect(value(await pictureOf(bench.app, who("ben"), "ada"))).toMatchObject({ type: "image/png" });
  expect(reason(await pictureOf(bench.app, who("far"), "ada"))).toMatch(/no such picture/);
  expect(reason(await pictureOf(bench.app, who("ben"), "nobody"))).toMatch(/no such picture/);
  const other = value(await keepPicture(bench.app, who("ada"), Buffer.concat([PNG, PNG])));
  expect(other.picture).not.toBe(picture);
  expect(value(await dropPicture(bench.app, who("ada")))).toEqual({ hue: 5, picture: null });
  expect(reason(await pictureOf(bench.app, who("ben"), "ada"))).toMatch(/no such picture/);
});
