import { expect, it } from "vitest";
import { commandAgain } from "./again";
import { EVENTS } from "./families/table";

it("brings back the command of what people say, and nothing that moves a branch or vouches for one", () => {
  const kinds = Object.keys(EVENTS) as (keyof typeof EVENTS)[];
  const alone = kinds.filter((kind) => commandAgain({ kind, data: {} } as never) === null);
  // Whoever adds a kind says here whether it can be handed in.
  expect(alone.sort()).toEqual([
    "check-asked",
    "checked",
    "labelled",
    "linked",
    "merge-asked",
    "merge-unasked",
    "merged",
    "opened",
    "retargeted",
    "revised",
    "unlinked",
  ]);
  expect(commandAgain({ kind: "replied", data: { thread: "t", comment: "c", body: "b" } })).toEqual({
    ...{ kind: "reply", thread: "t", comment: "c", body: "b" },
  });
});
