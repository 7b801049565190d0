import { render, screen, within } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { Rounds, Spans } from "./answers";
import { Hindrances } from "./hindrances";
import { inDays, spanWords } from "./spans";
import { Waiting } from "./waiting";

const HOUR = 3_600_000;
const ref = (number: number) => ({ repository: "quay", number, title: `Take ${number}` });
const week = (from: number, many: number) => ({
  ...{ from, median: 3 * HOUR, low: HOUR, high: 5 * HOUR },
  changes: Array.from({ length: many }, (_, i) => ref(i + 1)),
});
const cells = () =>
  screen.getAllByRole("row").map((row) =>
    within(row)
      .queryAllByRole("cell")
      .map((one) => one.textContent),
  );

describe("how long things take", () => {
  it("is told in the unit that fits", () => {
    const spans = [59_000, 90_000, HOUR, 2.5 * HOUR, 47 * HOUR, 60 * HOUR].map(spanWords);
    expect(spans).toEqual(["1 minute", "2 minutes", "1 hour", "2.5 hours", "47 hours", "2.5 days"]);
    expect(inDays(36 * HOUR)).toBe(1.5);
  });

  it("stands in a table with the numbers of the chart, and each leads to its change sets", async () => {
    const weeks = [week(Date.UTC(2026, 10, 16), 2), week(Date.UTC(2026, 10, 23), 1)];
    render(<Spans question="How long?" about="So long." weeks={weeks} />);
    expect(cells().slice(1)).toEqual([
      [expect.stringContaining("16"), "3 hours", "1 hour and 5 hours", "2"],
      [expect.stringContaining("23"), "3 hours", "only one", "1"],
    ]);
    expect(screen.queryByRole("link")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /^2 change sets/ }));
    expect(screen.getAllByRole("link").map((one) => one.getAttribute("href"))).toEqual(["/r/quay/c/1", "/r/quay/c/2"]);
    await userEvent.click(screen.getByRole("button", { name: /^2 change sets/ }));
    expect(screen.queryByRole("link")).toBeNull();
  });

  it("says so where there is nothing to tell", () => {
    render(<Rounds weeks={[]} />);
    expect(screen.getByText("Nothing yet.")).toBeTruthy();
    expect(screen.queryByRole("table")).toBeNull();
  });

  it("names what the gate waits for, and opens what waits", async () => {
    render(<Hindrances hindrances={[{ key: "steward", changes: [ref(4)] }]} />);
    await userEvent.click(screen.getByRole("button", { name: "1 waiting for a steward’s word" }));
    expect(screen.getByRole("link", { name: "quay 4" })).toBeTruthy();
  });

  it("lists what waits for a first word, and how many more there are", () => {
    const waiting = Array.from({ length: 23 }, (_, i) => ({ change: ref(i + 1), at: 0, value: 50 * HOUR }));
    render(<Waiting waiting={waiting} />);
    expect(screen.getAllByRole("listitem").length).toBeGreaterThanOrEqual(20);
    expect(screen.getAllByText("for 2.1 days")).toHaveLength(20);
    expect(screen.getByText("And 3 more.")).toBeTruthy();
  });
});
