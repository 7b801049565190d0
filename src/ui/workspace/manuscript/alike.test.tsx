import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { layRows } from "@/core/reading/rows";
import type { AlikeChange, SidedEnd } from "@/core/views/api";
import { Alike, changeAt, changeWith, otherPlaces } from "./alike";

const place = (path: string, start: number, within: string | null = null): SidedEnd => ({
  ...{ path, start, end: start + 1, within, side: "new" },
});
const places = [place("src/a.js", 3, "function hold()"), place("src/a.js", 12), place("src/b.js", 30)];
const changes = [1, 2].map(
  (at): AlikeChange => ({
    ...{ at, of: 3, here: places[at - 1], next: places[at % 3], previous: places[(at + 1) % 3], places },
  }),
);

describe("the same change at several places", () => {
  it("is said once for a file, with every place and the way to the next", async () => {
    const [onGo, onNext] = [vi.fn(), vi.fn()];
    render(<Alike changes={changes} onGo={onGo} onNext={onNext} />);
    expect(screen.getAllByText(/The same change at 3 places/)).toHaveLength(1);
    await userEvent.click(screen.getByText("src/b.js 30"));
    expect(onGo).toHaveBeenCalledWith("src/b.js", "new", 30);
    expect(screen.getByText("line 3").title).toBe("function hold()");
    await userEvent.click(screen.getByText(/next place/));
    expect(onNext).toHaveBeenCalledOnce();
  });

  it("is the one at the row, else the next below it, else the first", () => {
    const rows = layRows([{ oldStart: 11, oldEnd: 11, newStart: 11, newEnd: 13 }], 40, [[0, 40]]);
    expect(changeAt(changes, rows, 0)?.at).toBe(1);
    expect(changeAt(changes, rows, 11)?.at).toBe(2);
    expect(changeAt(changes, rows, 39)?.at).toBe(1);
    expect(changeAt([], rows, 0)).toBeUndefined();
  });

  it("lists its other places in a remark that is meant of all", () => {
    const change = changeWith(changes, { side: "new", start: 13, end: 13 })!;
    expect(change.at).toBe(2);
    expect(otherPlaces(change)).toBe("The same goes for line 3, `src/b.js` line 30.");
    expect(otherPlaces({ ...change, of: 9 })).toContain(" and 6 places more.");
    expect(changeWith(changes, { side: "old", start: 13, end: 13 })).toBeUndefined();
  });
});
