import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { Gathered } from "./gathered";

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

it("tells of what came in a while together, and of what comes later by itself", () => {
  const told: string[][] = [];
  const gathered = new Gathered<string>((all) => told.push(all), 1_000);
  gathered.add("quay");
  vi.advanceTimersByTime(900);
  gathered.add("pier");
  expect(told).toEqual([]);
  vi.advanceTimersByTime(100);
  expect(told).toEqual([["quay", "pier"]]);
  gathered.add("mole");
  vi.advanceTimersByTime(1_000);
  expect(told).toEqual([["quay", "pier"], ["mole"]]);
});

it("tells at once when it is said to, or a hundred wait, and of nothing twice", () => {
  const told: number[][] = [];
  const gathered = new Gathered<number>((all) => told.push(all), 1_000);
  gathered.now();
  gathered.add(0);
  gathered.now();
  expect(told).toEqual([[0]]);
  for (let n = 0; n < 100; n++) gathered.add(n);
  expect(told).toHaveLength(2);
  vi.advanceTimersByTime(5_000);
  expect(told).toHaveLength(2);
  expect(told[1]).toHaveLength(100);
});
