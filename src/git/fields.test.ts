import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Fields } from "./fields";

describe("fields", () => {
  it("are what stands between NULs, cut, however it comes in pieces", () => {
    const bytes = fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 60 });
    fc.assert(
      fc.property(bytes, fc.array(fc.nat(20), { maxLength: 20 }), fc.integer({ min: 1, max: 8 }), (all, cuts, most) => {
        const told: string[] = [];
        const fields = new Fields(most, (field) => told.push(field.toString("latin1")));
        let at = 0;
        for (const size of [...cuts, all.length]) {
          fields.add(Uint8Array.from(all.slice(at, at + size)));
          at += size;
        }
        fields.end();
        const text = Buffer.from(all).toString("latin1");
        expect(told).toEqual(text.split("\0").map((field) => field.slice(0, most)));
      }),
    );
  });
});
