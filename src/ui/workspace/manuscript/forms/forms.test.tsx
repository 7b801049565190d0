import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { compareFiles } from "@/core/diff/compare";
import { readView } from "@/core/diff/view";
import { formOf, LONGEST_DRAWN } from "@/core/reading/forms/form";
import Drawn from "./drawn";

function draw(path: string, old: string, next: string) {
  const bytes = (text: string) => new TextEncoder().encode(text);
  const comparison = compareFiles(bytes(old), bytes(next));
  const removed = comparison.hunks
    .flatMap(({ oldStart, oldEnd }) => old.split("\n").slice(oldStart, oldEnd))
    .join("\n");
  const view = { comparison, text: next.replace(/\n$/, ""), removed, untold: null };
  const onGo = vi.fn();
  return { ...render(<Drawn form={formOf(path)!} text={readView(view)} {...{ path, view, onGo }} />), onGo };
}

it("shows a table with what each cell was and is, and leads to its line", async () => {
  const { onGo } = draw("a.csv", "ship,quay\nAlma,3\nBrig,4\n", "ship,quay\nAlma,3\nBrig,5 \n");
  const row = screen.getByRole("row", { name: /Brig/ });
  expect(row.querySelector("del")?.textContent).toBe("4");
  // A space that nobody would see is seen.
  expect(row.querySelector("ins")?.textContent).toBe("5␣");
  expect(screen.getByText("1 row without a difference")).toBeTruthy();
  await userEvent.click(within(row).getByRole("button"));
  expect(onGo).toHaveBeenCalledWith("new", 3);
});

it("shows data by the ways to its values, and why it does not", async () => {
  const { onGo, unmount } = draw("a.json", '{"tide": {"slots": 3}}\n', '{"tide": {"slots": 4}}\n');
  expect(screen.getByText("tide › slots")).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "to line 1" }));
  expect(onGo).toHaveBeenCalledWith("new", 1);
  unmount();
  draw("a.json", '{"a": 1}\n', '{"a": 1, "a": 2}\n');
  expect(screen.getByRole("status").textContent).toMatch(/stands a second time/);
});

it("shows a notebook by its cells and runs nothing of it", () => {
  const book = (source: string, html: string) =>
    JSON.stringify({
      cells: [
        {
          ...{ id: "a", cell_type: "code", source },
          outputs: [{ output_type: "display_data", data: { "text/html": html, "text/plain": "42" } }],
        },
      ],
    });
  const { container } = draw("a.ipynb", book("a()", ""), book("b()", "<img src=x onerror=alert(1)>"));
  const cell = screen.getByRole("region", { name: "Code, changed" });
  expect(cell.textContent).toContain("− a()".replace(" ", "removed: "));
  expect(screen.getByText(/text\/html, 28 characters: not drawn/)).toBeTruthy();
  expect(container.querySelector("img, script")).toBeNull();
});

it("says which parts of a notebook and of a cell differ that are not drawn", () => {
  const book = (language: string, tags: string[], html: string) =>
    JSON.stringify({
      cells: [
        {
          ...{ id: "a", cell_type: "code", source: "ls", metadata: { tags } },
          outputs: [{ output_type: "display_data", data: { "text/html": html } }],
        },
      ],
      metadata: { language },
    });
  draw("a.ipynb", book("python", [], "<b>1</b>"), book("bash", ["skip"], "<b>2</b>"));
  expect(screen.getByText(/says of itself is changed: “metadata”/)).toBeTruthy();
  expect(screen.getByText(/in what is not drawn, too: “metadata”, “outputs”/)).toBeTruthy();
});

it("draws nothing that is too long, and knows forms by the path", () => {
  draw("a.json", "", JSON.stringify("x".repeat(LONGEST_DRAWN.data)));
  expect(screen.getByRole("status").textContent).toMatch(/too long/);
  expect(["a.md", "b.TSV", "c.yml", "d.ipynb", "e.ts", "json"].map(formOf)).toEqual([
    ...["prose", "table", "data", "notebook"],
    ...[null, null],
  ]);
});
