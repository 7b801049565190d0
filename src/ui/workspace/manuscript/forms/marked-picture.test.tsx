import { expect, it } from "vitest";
import { pixelDifference } from "@/core/reading/forms/pixels";
import { sayPixels } from "./marked-picture";

const picture = (...shades: number[]) => shades.flatMap((shade) => [shade, shade, shade, 255]);
const said = (old: number[], next: number[]) => sayPixels(pixelDifference(picture(...old), picture(...next), 2));

it("says how many pixels differ and where, and no more of what is not seen than that", () => {
  expect(said([1, 2, 3, 4], [1, 2, 3, 5])).toBe(
    "1 of 4 pixels differs, within 1 × 1 of them, 1 from the left and 1 from the top.",
  );
  expect(said([1, 2, 3, 4], [0, 2, 3, 5])).toBe(
    "2 of 4 pixels differ, within 2 × 2 of them, 0 from the left and 0 from the top.",
  );
  expect(said([1, 2], [1, 2])).toMatch(/^No pixel differs, as far as this browser draws them/);
});
