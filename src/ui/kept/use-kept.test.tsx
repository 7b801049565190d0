import { act, renderHook } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import { useKept } from "./use-kept";

beforeEach(() => void vi.useFakeTimers());

function writing() {
  const save = vi.fn<(value: string, leaving: boolean) => Promise<string | null>>(async () => null);
  const { result, unmount } = renderHook(() => useKept<string>("", save));
  return { save, kept: () => result.current, unmount };
}
const pass = (milliseconds: number) => act(() => vi.advanceTimersByTimeAsync(milliseconds));

it("keeps what is written a moment after each pause, once", async () => {
  const { save, kept } = writing();
  act(() => kept().change("a"));
  await pass(200);
  act(() => kept().change("ab"));
  await pass(200);
  expect(save).not.toHaveBeenCalled();
  await pass(400);
  expect(save.mock.calls).toEqual([["ab", false]]);
  expect(kept().state).toBe("kept");
  await pass(60_000);
  expect(save).toHaveBeenCalledTimes(1);
});

it("says what could not be kept, and tries again until it is", async () => {
  const { save, kept } = writing();
  save.mockResolvedValueOnce("The server cannot be reached just now.");
  act(() => kept().change("words"));
  await pass(400);
  expect(kept().problem).toBe("Not kept yet: The server cannot be reached just now.");
  expect(kept().value).toBe("words");
  await pass(1_000);
  expect(save).toHaveBeenCalledTimes(2);
  expect([kept().problem, kept().state]).toEqual(["", "kept"]);
});

it("keeps at once when the page is left, when it is asked to, and when the field goes", async () => {
  const left = writing();
  act(() => left.kept().change("a"));
  await act(async () => void window.dispatchEvent(new Event("pagehide")));
  expect(left.save.mock.calls).toEqual([["a", true]]);
  const asked = writing();
  act(() => asked.kept().change("b"));
  await act(async () => expect(await asked.kept().flush()).toBeNull());
  expect(asked.save).toHaveBeenCalledTimes(1);
  const gone = writing();
  act(() => gone.kept().change("c"));
  await act(async () => gone.unmount());
  expect(gone.save).toHaveBeenCalledWith("c", false);
});

it("forgets what was written when it is told to", async () => {
  const { save, kept, unmount } = writing();
  act(() => kept().change("a"));
  act(() => kept().cancel());
  await pass(10_000);
  await act(async () => unmount());
  expect(save).not.toHaveBeenCalled();
});
