import { act, renderHook } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import { useKept } from "./use-kept";

beforeEach(() => void vi.useFakeTimers());

function writing() {
  const save = vi.fn<(value: string, leaving: boolean) => Promise<string | null>>(async () => null);
  const { result, unmount, rerender } = renderHook((initial: string) => useKept<string>(initial, save), {
    initialProps: "",
  });
  return { save, kept: () => result.current, unmount, told: (initial: string) => act(() => rerender(initial)) };
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

it("asks again only when it was answered, and then for the last of what was written", async () => {
  const { save, kept } = writing();
  let answer!: (refusal: string | null) => void;
  save.mockReturnValueOnce(
    new Promise((resolve) => {
      answer = resolve;
    }),
  );
  for (const words of ["a", "ab", "abc"]) {
    act(() => kept().change(words));
    await pass(400);
  }
  const flushed = kept().flush();
  await pass(10_000);
  expect(save.mock.calls).toEqual([["a", false]]);
  // The page is left: that waits for nothing.
  await act(async () => void window.dispatchEvent(new Event("pagehide")));
  expect(save.mock.calls.slice(1)).toEqual([["abc", true]]);
  await act(async () => answer(null));
  await act(async () => expect(await flushed).toBeNull());
  await pass(10_000);
  expect(save.mock.calls.slice(1).every(([words]) => words === "abc")).toBe(true);
  expect([kept().value, kept().state]).toEqual(["abc", "kept"]);
});

it("takes over what was written elsewhere, unless something waits to be kept here", async () => {
  const { save, kept, told } = writing();
  told("elsewhere");
  expect(kept().value).toBe("elsewhere");
  act(() => kept().change("here"));
  told("elsewhere again");
  expect(kept().value).toBe("here");
  await pass(400);
  expect(save.mock.calls).toEqual([["here", false]]);
  told("here");
  told("back");
  expect(kept().value).toBe("back");
  await pass(10_000);
  expect(save).toHaveBeenCalledTimes(1);
});
