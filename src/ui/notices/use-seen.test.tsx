import { act } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { answerFor } from "../testing/change";
import { FakeServer } from "../testing/fake-server";
import { showInWorkspace } from "../testing/in-workspace";
import { useChangeSet } from "../workspace/state/context";
import { useSeen } from "./use-seen";

function Seen() {
  useSeen(useChangeSet().view);
  return null;
}

const look = vi.spyOn(document, "visibilityState", "get");
beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true }));
afterEach(() => vi.useRealTimers());

it("says that notices of a change set are read once somebody looks at it, and not before", async () => {
  const marked: unknown[] = [];
  new FakeServer({
    "PUT /api/notices": ({ body }) => {
      marked.push(body);
      return { unread: 0 };
    },
  });
  look.mockReturnValue("hidden");
  showInWorkspace(answerFor("ben"), <Seen />);
  await act(() => vi.advanceTimersByTimeAsync(10_000));
  expect(marked).toEqual([]);
  look.mockReturnValue("visible");
  document.dispatchEvent(new Event("visibilitychange"));
  await act(() => vi.advanceTimersByTimeAsync(5_000));
  expect(marked).toEqual([{ of: { repository: expect.any(String), number: expect.any(Number) }, read: true }]);
  // Coming back to it marks nothing again.
  document.dispatchEvent(new Event("visibilitychange"));
  await act(() => vi.advanceTimersByTimeAsync(5_000));
  expect(marked).toHaveLength(1);
});
