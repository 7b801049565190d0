import { render } from "@testing-library/react";
import { expect, it } from "vitest";
import { SmallDiff } from "./small-diff";

/** The rows, each with its sign and its text as it is, and the codes of what does not show in it. */
function rowsOf(was: string[], lines: string[]) {
  const { container } = render(<SmallDiff was={was} lines={lines} />);
  return [...container.querySelectorAll("p")].map((row) => [
    row.textContent?.replace(/(?:added|removed): /, "").trimEnd(),
    ...[...row.querySelectorAll(".odd")].map((one) => one.getAttribute("data-code")),
  ]);
}

it("draws what does not show in what is suggested, also within what is marked as changed", () => {
  expect(rowsOf(["check(user);", "done();"], ["check(user\u202e, admin\u2066);", "done();"])).toEqual([
    ["−check(user);"],
    ["+check(user\u202e, admin\u2066);", "U+202E", "U+2066"],
    ["done();"],
  ]);
  // The end of a line that ends with U+000D too is none, one within it is.
  expect(rowsOf([], ["a\r", "b\rc"])).toEqual([["+a"], ["+b\rc", "U+000D"]]);
});
