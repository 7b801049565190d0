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

it("waits also where the press takes the focus from a field", () => {
  const field = document.body.appendChild(document.createElement("textarea"));
  const then = vi.fn();
  press();
  fireEvent.blur(field);
  act(() => void vi.runAllTimers());
  afterPress(then);
  expect(then).not.toHaveBeenCalled();
  release();
  expect(then).toHaveBeenCalledTimes(1);
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

it("knows of a press that ended elsewhere: with the pointer back and nothing held, or another window before it", () => {
  for (const end of [
    () => fireEvent(window, new MouseEvent("pointermove", { buttons: 0 })),
    () => fireEvent(window, new Event("blur")),
  ]) {
    const then = vi.fn();
    press();
    afterPress(then);
    fireEvent(window, new MouseEvent("pointermove", { buttons: 1 }));
    act(() => void vi.runAllTimers());
    expect(then).not.toHaveBeenCalled();
    end();
    act(() => void vi.runAllTimers());
    expect(then).toHaveBeenCalledTimes(1);
  }
});

it("holds a value while something is typed, until it pauses", () => {
  const { result, rerender } = renderHook(({ value }) => useSteady(value), { initialProps: { value: 1 } });
  const field = document.body.appendChild(document.createElement("textarea"));
  fireEvent.input(field, { target: { value: "a" } });
  rerender({ value: 2 });
  act(() => void vi.advanceTimersByTime(400));
  fireEvent.input(field, { target: { value: "ab" } });
  act(() => void vi.advanceTimersByTime(400));
  expect(result.current).toBe(1);
  act(() => void vi.advanceTimersByTime(200));
  expect(result.current).toBe(2);
});

it("lets go of a value when the window is left in the middle of typing, and not when one field is left for another", () => {
  const { result, rerender } = renderHook(({ value }) => useSteady(value), { initialProps: { value: 1 } });
  const field = document.body.appendChild(document.createElement("textarea"));
  fireEvent.input(field, { target: { value: "a" } });
  rerender({ value: 2 });
  act(() => void fireEvent.blur(field));
  expect(result.current).toBe(1);
  act(() => void fireEvent(window, new Event("blur")));
  expect(result.current).toBe(2);
});
