import { describe, expect, it } from "vitest";
import { againstYardstick } from "./yardstick";

const file = (path: string, oldId: string | null, newId: string | null) => ({
  path,
  oldId,
  newId,
  oldMode: 1,
  newMode: 1,
});

describe("a yardstick", () => {
  it("tells what is there already, what is new, what differs, and what would be lost", () => {
    const mine = [
      file("same", "0", "1"),
      file("other", "0", "1"),
      file("new", null, "1"),
      file("gone", "0", null),
      file("both", "0", "1"),
    ];
    const apart = [
      file("other", "0", "1"),
      file("new", null, "1"),
      file("gone", "0", null),
      file("both", "9", "1"),
      file("hotfix", "9", "0"),
      file("later", "0", "1"),
    ];
    const since = [file("both", "0", "9"), file("hotfix", "0", "9"), file("same", "0", "1")];
    expect(
      againstYardstick(mine, apart, since).map(
        ({ path, state, changedThere }) => `${path} ${state}${changedThere ? "!" : ""}`,
      ),
    ).toEqual(["same same", "other different", "new new", "gone gone", "both different!", "hotfix there!"]);
  });
});
