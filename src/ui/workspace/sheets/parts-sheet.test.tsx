import { screen } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { compareFiles } from "@/core/diff/compare";
import type { OutlinedView } from "@/core/views/around-view";
import { answerFor, file } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { PartsSheet } from "./parts-sheet";

const part = (name: string, line: number): OutlinedView[number] => ({
  ...{ name, kind: "function", within: [] },
  ...{ line, start: line, end: line },
});

function sheet() {
  const bytes = (text: string) => new TextEncoder().encode(text);
  const [old, next] = ["gone()\nkept()\n", "kept()\nnew()\n"];
  new FakeServer({
    "GET /api/repos/{repo}/files": () => ({
      ...{ comparison: compareFiles(bytes(old), bytes(next)), text: next, removed: "gone()\n", untold: null },
    }),
    "GET /api/repos/{repo}/colours": () => ({ old: [], new: [] }),
    "GET /api/repos/{repo}/definitions": ({ query }) =>
      query.id === "old" ? [part("gone", 1), part("kept", 2)] : [part("kept", 1), part("new\u202e", 2)],
  });
  const onGo = vi.fn();
  const one = { ...file("src/quay.ts"), oldPath: "src/pier.ts", oldId: "old", newId: "new" };
  const shown = showInWorkspace(
    answerFor("ben"),
    <PartsSheet open file={one} points={{ kind: "revision", from: "base", to: 1 }} onGo={onGo} onClose={() => {}} />,
  );
  return { ...shown, onGo, options: () => screen.getAllByRole("option").map((option) => option.textContent) };
}

it("lists both states with what the change made of each part, and shows what is not seen", async () => {
  const { options } = sheet();
  await screen.findByText(/3 parts; of all 2 are touched/);
  expect(options()).toEqual([
    "−gonefunctionremoved, line 1",
    "keptfunctionline 1",
    "+new⟨U+202E⟩functionadded, line 2",
  ]);
});

it("goes to what is typed, also to what is gone, in the state and under the name that it had", async () => {
  const { user, onGo, options } = sheet();
  await screen.findByText(/3 parts/);
  await user.type(screen.getByPlaceholderText(/Go to a part/), "removed");
  expect(options()).toHaveLength(1);
  await user.keyboard("{Enter}");
  expect(onGo).toHaveBeenCalledWith("src/pier.ts", "old", 1);
  await user.clear(screen.getByPlaceholderText(/Go to a part/));
  await user.type(screen.getByPlaceholderText(/Go to a part/), "nothing of that");
  expect(await screen.findByText("No part of it has that in its name.")).toBeTruthy();
});
