import { act, renderHook } from "@testing-library/react";
import { expect, it } from "vitest";
import type { Placed } from "./use-entries";
import { usePlaced } from "./use-placed";

const at = (start: number, more: Partial<Placed> = {}): Placed => ({
  ...{ id: "t1", side: "new", place: { status: "unchanged", start, end: start } },
  ...more,
});

it("is the same list as long as each remark stands where it stood", () => {
  const { result } = renderHook(usePlaced);
  const tell = (...placed: Placed[]) => act(() => result.current[1](placed));
  const list = () => result.current[0];
  const empty = list();
  tell();
  expect(list()).toBe(empty);
  tell(at(7));
  const told = list();
  tell(at(7));
  expect(list()).toBe(told);
  const others = [
    [at(8)],
    [at(7, { side: "old" })],
    [at(7, { id: "t2" })],
    [at(7, { place: { status: "shifted", start: 7, end: 7 } })],
    [at(7, { place: { status: "unchanged", start: 7, end: 9 } })],
    [at(7, { place: { status: "gone" } })],
    [at(7), at(7, { id: "t2" })],
    [],
  ];
  for (const other of others) {
    tell(...other);
    expect(list()).toEqual(other);
    tell(at(7));
    expect(list()).toEqual([at(7)]);
  }
});
