import { act, fireEvent, renderHook } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import { afterPress, useSteady } from "./after-press";

beforeEach(() => void vi.useFakeTimers());
const press = () => fireEvent.pointerDown(document.body);
const release = () =>
  act(() => {
    fireEvent.pointerUp(document.body);
    vi.runAllTimers();
  });

it("waits for the end of a press, and for its click", () => {
  const done: string[] = [];
  afterPress(() => done.push("at once"));
  press();
  afterPress(() => done.push("after"));
  document.body.addEventListener("click", () => done.push("click"), { once: true });
  fireEvent.pointerUp(document.body);
  fireEvent.click(document.body);
  expect(done).toEqual(["at once", "click"]);
  act(() => void vi.runAllTimers());
  expect(done).toEqual(["at once", "click", "after"]);
});

it("holds a value while something is pressed", () => {
  const { result, rerender } = renderHook(({ value }) => useSteady(value), { initialProps: { value: 1 } });
  rerender({ value: 2 });
  expect(result.current).toBe(2);
  press();
  rerender({ value: 3 });
  expect(result.current).toBe(2);
  release();
  expect(result.current).toBe(3);
});
