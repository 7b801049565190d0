import { describe, expect, it } from "vitest";
import { itemsOf, linkedItems, trailersIn } from "./trailers";

describe("trailers", () => {
  it("are the last paragraph, when all of it is trailers", () => {
    expect(trailersIn("Fix\n\nWhy.\n\nRefs: #7\nSigned-off-by: A <a@x>\n  and more")).toEqual([
      { key: "Refs", value: "#7" },
      { key: "Signed-off-by", value: "A <a@x> and more" },
    ]);
    expect(trailersIn("Fix\n\nCloses: #7\nand that is that")).toEqual([]);
    expect(trailersIn("Closes: #7\n\nNo, not yet.")).toEqual([]);
    expect(itemsOf(trailersIn("Fix\r\n\r\nCloses: #7, 8\r\nrefs: HARBOUR-12\r\nOther: 9"))).toEqual([
      { item: "7", closes: true },
      { item: "8", closes: true },
      { item: "HARBOUR-12", closes: false },
    ]);
  });

  it("join what people linked, each item once", () => {
    const link = { item: "7", closes: false, by: "a", at: 0 };
    expect(
      linkedItems([link], "Text\n\nRefs: 8", [
        { item: "7", closes: true },
        { item: "8", closes: false },
      ]),
    ).toEqual([
      { item: "7", closes: true, from: "link" },
      { item: "8", closes: false, from: "description" },
    ]);
  });
});
