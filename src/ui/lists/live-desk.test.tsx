import { act, render } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import { LiveDesk } from "./live-desk";

const refresh = vi.fn();
vi.mock("next/navigation", () => ({ useRouter: () => ({ refresh }) }));

/** The news of the desk, as the server would send them. */
class News {
  static last: News;
  onopen: () => void = () => undefined;
  onmessage: () => void = () => undefined;
  close = vi.fn();
  constructor(readonly address: string) {
    News.last = this;
  }
}

beforeEach(() => {
  refresh.mockReset();
  vi.useFakeTimers();
  vi.stubGlobal("EventSource", News);
});
const wait = (ms: number) => act(() => void vi.advanceTimersByTime(ms));

it("asks for the page anew when something happened, once for much at a time", () => {
  const { unmount } = render(<LiveDesk />);
  expect(News.last.address).toContain("/api/desk/events");
  wait(60_000);
  expect(refresh).not.toHaveBeenCalled();
  for (let i = 0; i < 5; i++) News.last.onmessage();
  wait(200);
  expect(refresh).toHaveBeenCalledTimes(1);
  News.last.onmessage();
  wait(200);
  expect(refresh).toHaveBeenCalledTimes(1);
  wait(3_000);
  expect(refresh).toHaveBeenCalledTimes(2);
  unmount();
  expect(News.last.close).toHaveBeenCalled();
});

it("asks when it hears of the server again, and not when it hears of it first", () => {
  render(<LiveDesk />);
  News.last.onopen();
  wait(10_000);
  expect(refresh).not.toHaveBeenCalled();
  News.last.onopen();
  wait(10_000);
  expect(refresh).toHaveBeenCalledTimes(1);
});

it("asks again as long as something is being counted", () => {
  const { rerender } = render(<LiveDesk counting />);
  wait(10_000);
  expect(refresh).toHaveBeenCalledTimes(3);
  rerender(<LiveDesk counting={false} />);
  wait(60_000);
  expect(refresh).toHaveBeenCalledTimes(3);
});

it("asks less and less often for what takes long, and goes on asking", () => {
  render(<LiveDesk counting />);
  wait(600_000);
  const so = refresh.mock.calls.length;
  expect(so).toBeLessThan(20);
  wait(120_000);
  expect(refresh).toHaveBeenCalledTimes(so + 2);
});
