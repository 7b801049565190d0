import { expect, it } from "vitest";
import { file } from "../../testing/change";
import { happenedTo } from "./file-choice";

it("tells what became of a file as a whole, by a sign and in words", () => {
  const told = (more: Parameters<typeof file>[1], path = "src/tide.ts") => {
    const happened = happenedTo(file(path, more));
    return happened && `${happened.sign} ${happened.words}`;
  };
  expect(told({ oldId: null, oldMode: 0 })).toBe("+ added");
  expect(told({ newId: null, newMode: 0 })).toBe("− removed");
  expect(told({ oldPath: "lib/tide.ts" })).toBe("→ moved from lib/tide.ts");
  expect(told({ oldPath: "src/tides.ts" })).toBe("→ renamed from src/tides.ts");
  expect(told({ oldPath: "src/tides.ts", copy: true })).toBe("⧉ copied from src/tides.ts");
  // A path that would hide something is drawn with its signs.
  expect(told({ oldPath: "src/ti\u202ede.ts" })).not.toContain("\u202e");
  expect(told({})).toBeNull();
});
