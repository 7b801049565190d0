import { act, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { expect, it, vi } from "vitest";
import { DraftOwner, forgetOldDrafts, useDraft } from "./use-draft";

const as =
  (owner: string) =>
  ({ children }: { children: ReactNode }) => <DraftOwner value={owner}>{children}</DraftOwner>;
const draft = (place: string, owner = "ada", unless = "") =>
  renderHook(({ at }) => useDraft(at, unless), { wrapper: as(owner), initialProps: { at: place } });

it("is there again after the page was left, for whoever wrote it and for that place alone", () => {
  const first = draft("reply t1");
  act(() => first.result.current.change("Because"));
  expect(first.result.current).toMatchObject({ value: "Because", begun: true });
  first.unmount();
  expect(draft("reply t1").result.current.value).toBe("Because");
  expect(draft("reply t2").result.current).toMatchObject({ value: "", begun: false });
  expect(draft("reply t1", "ben").result.current.begun).toBe(false);
});

it("is the same in two windows, and is forgotten when it was sent", () => {
  const [one, other] = [draft("title"), draft("title")];
  act(() => one.result.current.change("Hold"));
  expect(other.result.current.value).toBe("Hold");
  act(() => other.result.current.forget());
  expect(one.result.current).toMatchObject({ value: "", begun: false });
});

it("tells what is empty from what was never begun", () => {
  const { result } = draft("title", "ada", "As it is");
  expect(result.current.value).toBe("As it is");
  act(() => result.current.change(""));
  expect(result.current).toMatchObject({ value: "", begun: true });
});

it("keeps what is typed as long as the page where the browser keeps nothing, and bears what is damaged", () => {
  window.localStorage.setItem("lens.draft ada title", "{not JSON");
  const { result } = draft("title", "ada", "As it is");
  expect(result.current.value).toBe("As it is");
  window.localStorage.clear();
  const full = vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });
  act(() => result.current.change("typed"));
  expect(result.current.value).toBe("typed");
  full.mockRestore();
});

it("lets go of what nobody came back to", () => {
  const day = 86_400_000;
  window.localStorage.setItem("lens.draft ada old", JSON.stringify({ at: Date.now() - 91 * day, value: "x" }));
  window.localStorage.setItem("lens.draft ada new", JSON.stringify({ at: Date.now() - 80 * day, value: "x" }));
  window.localStorage.setItem("lens.columns", "two");
  forgetOldDrafts();
  expect(Object.keys(window.localStorage).sort()).toEqual(["lens.columns", "lens.draft ada new"]);
});
