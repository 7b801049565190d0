import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { markedPixels, pixelDifference } from "./pixels";

const WIDTH = 5;
const pixel = fc.tuple(...[0, 1, 2].map(() => fc.constantFrom(0, 128, 255)), fc.constantFrom(0, 255));
const picture = fc.array(pixel, { minLength: 15, maxLength: 15 });
const seen = ([red, green, blue, opacity]: number[]) => (opacity === 0 ? "" : `${red} ${green} ${blue} ${opacity}`);

describe("two pictures of one size", () => {
  it("differ in the pixels that are seen to, and in a rectangle around all of them", () => {
    fc.assert(
      fc.property(picture, picture, (old, next) => {
        const found = pixelDifference(old.flat(), next.flat(), WIDTH);
        const others = old.flatMap((one, at) => (seen(one) === seen(next[at]) ? [] : at));
        expect([...found.differs].flatMap((differs, at) => (differs ? at : []))).toEqual(others);
        expect(found.count).toBe(others.length);
        expect(found.box === null).toBe(others.length === 0);
        if (!found.box) return;
        const { left, top, right, bottom } = found.box;
        const [columns, rows] = [others.map((at) => at % WIDTH), others.map((at) => Math.floor(at / WIDTH))];
        expect([left, right - 1]).toEqual([Math.min(...columns), Math.max(...columns)]);
        expect([top, bottom - 1]).toEqual([Math.min(...rows), Math.max(...rows)]);
      }),
    );
  });

  it("are drawn with what differs in a colour of its own, and the rest pale", () => {
    const [black, white, unseen] = [
      [0, 0, 0, 255],
      [255, 255, 255, 255],
      [9, 9, 9, 0],
    ];
    const [old, next] = [
      [...black, ...white, ...unseen],
      [...black, ...black, ...unseen],
    ];
    const marked = markedPixels(next, pixelDifference(old, next, 3), [200, 0, 10]);
    expect([...marked.slice(4, 8)]).toEqual([200, 0, 10, 255]);
    expect(marked[0]).toBeGreaterThan(150);
    expect(marked[0]).toBeLessThan(200);
    expect([...marked.slice(8)]).toEqual([255, 255, 255, 255]);
  });
});
