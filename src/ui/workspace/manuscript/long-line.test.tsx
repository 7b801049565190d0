import { act, renderHook, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { ADDED, REMOVED, type Rows } from "@/core/reading/rows";
import { answerFor } from "../../testing/change";
import { showInWorkspace } from "../../testing/in-workspace";
import { LongLine, type LongLineView } from "./long-line";
import { useLongLine } from "./use-long-line";

/** Words that tell where in a line they stand: the fifth begins at 50. */
const words = (count: number) => Array.from({ length: count }, (_, n) => `w${String(n).padStart(7, "0")}; `).join("");

describe("a very long line", () => {
  const line = (given: Partial<LongLineView>): LongLineView => ({
    ...{ side: "new", number: 3, text: words(3_000), runs: [], spans: [] },
    ...given,
  });
  const shown = () => screen.getByLabelText("Line 3").textContent;

  it("is read piece by piece, to its end and back", async () => {
    const { user } = showInWorkspace(answerFor("ben"), <LongLine line={line({})} onClose={vi.fn()} />);
    expect(shown()).toBe(words(3_000).slice(0, 10_000));
    expect(screen.getByText("Characters 1 to 10,000 of 30,000.", { exact: false })).toBeTruthy();
    await user.click(screen.getByText("later"));
    await user.click(screen.getByText("later"));
    expect(shown()).toBe(words(3_000).slice(20_000));
    expect(screen.getByText<HTMLButtonElement>("later").disabled).toBe(true);
    await user.click(screen.getByText("earlier"));
    expect(shown()).toBe(words(3_000).slice(10_000, 20_000));
  });

  it("begins with what changed in it, and goes on to what changed behind that", async () => {
    const given = line({ spans: [12_000, 12_010, 12_100, 12_105, 29_990, 29_995] });
    const { user } = showInWorkspace(answerFor("ben"), <LongLine line={given} onClose={vi.fn()} />);
    expect(shown()).toBe(given.text.slice(11_800, 21_800));
    const marked = () => [...document.querySelectorAll(".marked")].map((part) => part.textContent);
    expect(marked()).toEqual([given.text.slice(12_000, 12_010), given.text.slice(12_100, 12_105)]);
    await user.click(screen.getByText("next difference"));
    expect(shown()).toBe(given.text.slice(20_000));
    expect(marked()).toEqual([given.text.slice(29_990, 29_995)]);
    expect(screen.queryByText("next difference")).toBeNull();
  });
});

describe("showing a line whole", () => {
  const old = words(300);
  const next = `${words(250)}evil(); ${words(300).slice(2_500)}`;
  const rows = { kind: [REMOVED, ADDED, ADDED], old: [0, -1, -1], next: [-1, 0, 1] } as never as Rows;
  const hunks = [{ oldStart: 0, oldEnd: 1, newStart: 0, newEnd: 2 }];
  const lines = { old: () => old, next: [next, "short"] };
  const marks = { old: new Map(), next: new Map() };
  const begun = (given = marks) => {
    const tell = vi.fn();
    const of = { rows, hunks, text: lines, colours: { old: [], new: [] }, marks: given };
    const { result } = renderHook(() => useLongLine(of, tell));
    return { tell, result };
  };

  it("finds where it differs from the one in its place, where its words were not compared", () => {
    const { result } = begun();
    act(() => result.current.show(1, "new"));
    expect(result.current.shown).toMatchObject({ side: "new", number: 1, text: next, spans: [2_500, 2_508] });
    act(() => result.current.show(0, "old"));
    expect(result.current.shown).toMatchObject({ side: "old", number: 1, text: old, spans: [2_500, 2_500] });
    act(() => result.current.close());
    expect(result.current.shown).toBeNull();
  });

  it("takes what is known of its words, and says of a short one that it is shown", () => {
    const known = begun({ old: new Map(), next: new Map([[0, [5, 9]]]) });
    act(() => known.result.current.show(1, "new"));
    expect(known.result.current.shown?.spans).toEqual([5, 9]);
    const { result, tell } = begun();
    act(() => result.current.show(2, "new"));
    expect(result.current.shown).toBeNull();
    expect(tell).toHaveBeenCalledWith("This line is shown whole.");
  });
});
