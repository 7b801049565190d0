import Sqlite from "libsql";
import { afterEach, beforeEach, expect, it } from "vitest";
import { KeptStatements } from "./kept-statements";

let connection: InstanceType<typeof Sqlite>;
let kept: KeptStatements;
beforeEach(() => {
  connection = new Sqlite(":memory:");
  connection.exec("create table berths (id integer primary key, name text)");
  kept = new KeptStatements(connection);
});
afterEach(() => kept.close());

const insert = (id: number, name: string) =>
  kept.prepare("insert into berths (id, name) values (?, ?)").run([id, name]);
const all = () => kept.prepare("select * from berths order by id").all([]);

it("are the same for the same words, and answer anew each time", () => {
  expect(all()).toEqual([]);
  insert(1, "north");
  insert(2, "south");
  expect(all()).toEqual([
    { id: 1, name: "north" },
    { id: 2, name: "south" },
  ]);
  expect(kept.prepare("select * from berths order by id")).toBe(kept.prepare("select * from berths order by id"));
  const [found] = [2, 1].map((id) => kept.prepare("select name from berths where id = ?").all([id]));
  expect(found).toEqual([{ name: "south" }]);
});

it("go on after one of them was refused", () => {
  insert(1, "north");
  expect(() => insert(1, "again")).toThrow(/UNIQUE/);
  insert(2, "south");
  expect(all()).toHaveLength(2);
  const making = "insert into berths (id, name) values (?, ?) returning id";
  expect(() => kept.prepare(making).all([2, "again"])).toThrow(/UNIQUE/);
  expect(kept.prepare(making).all([3, "east"])).toEqual([{ id: 3 }]);
});

it("see tables as they are now", () => {
  insert(1, "north");
  all();
  kept.prepare("alter table berths add column depth integer default 7").run([]);
  expect(all()).toEqual([{ id: 1, name: "north", depth: 7 }]);
});
