import { expect, it } from "vitest";
import { wrongFromElsewhere, wrongThere } from "./elsewhere";
import { COMMANDS, EVENTS } from "./families/table";

it("lets people of another server say things, and settle nothing that is decided here", () => {
  const kinds = Object.keys(EVENTS) as (keyof typeof EVENTS)[];
  const let_in = kinds.filter((kind) => wrongFromElsewhere({ kind, data: {} } as never, true) === null);
  expect(let_in.sort()).toEqual(["edited", "reacted", "replied", "reviewed"]);
  const settling = { kind: "reviewed", data: { replies: [{ thread: "t", comment: "c", body: "b", resolves: true }] } };
  expect(wrongFromElsewhere(settling as never, true)).toMatch(/settles/);
});

it("takes all that the other decided of what began there, and lets nobody here write what the other would not take", () => {
  for (const kind of Object.keys(EVENTS)) expect(wrongFromElsewhere({ kind, data: {} } as never, false)).toBeNull();
  const kinds = Object.keys(COMMANDS) as (keyof typeof COMMANDS)[];
  const may = kinds.filter((kind) => wrongThere({ kind }) === null);
  expect(may.sort()).toEqual(["edit", "react", "reply", "send-review"]);
  expect(wrongThere({ kind: "send-review", replies: [{ resolves: true }] } as never)).toMatch(/settled on the server/);
});
