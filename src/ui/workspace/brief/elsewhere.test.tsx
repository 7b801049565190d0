import { screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { LeftAlone } from "@/core/views/around-view";
import { answerFor } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { Elsewhere, hintWords } from "./elsewhere";

const item = (given: Partial<LeftAlone>): LeftAlone => ({
  ...{ name: "holdUntil", kind: "function", within: [], path: "src/hold.js", line: 3, what: "changed" },
  ...{ before: "function holdUntil(slot)", after: "function holdUntil(slot, until)" },
  ...{ uses: [], count: 0, touched: 1, others: 0, tested: null },
  ...given,
});
const uses = (count: number) =>
  Array.from({ length: count }, (_, n) => ({ path: `src/use-${n}.js`, line: n + 1, text: `  holdUntil(${n});` }));

describe("what is left alone", () => {
  it("is said in a sentence each, and no more than is known", () => {
    const said = (given: Partial<LeftAlone>) => hintWords(item(given));
    expect(said({ count: 3 })).toBe("is another function now, and 3 uses of it are not in this change set.");
    expect(said({ count: 1, tested: false })).toBe(
      "is another function now, and 1 use of it is not in this change set, and no test names it.",
    );
    expect(said({ what: "removed", count: 2 })).toBe("is gone, and 2 uses of it are not in this change set.");
    expect(said({ what: "added" })).toBe("is new, and nothing uses it.");
    expect(said({ kind: "constant", count: 1 })).toContain("another value");
    expect(said({ tested: false })).toBe("changed, and no test names it.");
  });

  it("says so where it was not looked for, so that nobody takes silence for an answer", async () => {
    new FakeServer({ "GET /api/repos/{repo}/changes/{number}/left-alone": () => ({ items: [], more: true }) });
    showInWorkspace(answerFor("ben"), <Elsewhere onGo={vi.fn()} />);
    expect(await screen.findByText(/were not looked for: that none are named means nothing/)).toBeTruthy();
  });

  it("leads to each use, tells that some may be of another, and can be hidden", async () => {
    new FakeServer({
      "GET /api/repos/{repo}/changes/{number}/left-alone": () => ({
        items: [item({ uses: uses(8), count: 21, others: 2 })],
        more: true,
      }),
    });
    const onGo = vi.fn();
    const { user } = showInWorkspace(answerFor("ben"), <Elsewhere onGo={onGo} />);
    await user.click(await screen.findByText("src/use-2.js 3"));
    expect(onGo).toHaveBeenCalledWith("src/use-2.js", "new", 3);
    expect(screen.queryByText("src/use-7.js 8")).toBeNull();
    await user.click(screen.getByText("show 2 uses more"));
    expect(screen.getByText("src/use-7.js 8")).toBeTruthy();
    expect(screen.getByText("and 13 uses more")).toBeTruthy();
    expect(screen.getByText(/2 other definitions of that name/)).toBeTruthy();
    expect(screen.getByText(/too much to look through/)).toBeTruthy();
    await user.click(screen.getByText("hide"));
    expect(screen.queryByText("src/use-2.js 3")).toBeNull();
    await user.click(screen.getByText("show 1 hint"));
    expect(screen.getByText("src/use-2.js 3")).toBeTruthy();
  });
});
