import { screen } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { wholeView } from "@/core/doors/endpoints/change-view";
import { answerFor, file, remark } from "../../testing/change";
import { showInWorkspace } from "../../testing/in-workspace";
import { orderItems, threadItems } from "./items";
import { Mark, marksOf } from "./mark";

const files = [
  file("src/tide.ts", { toRead: 1240 }),
  file("src/mast.ts", { toRead: 0 }),
  file("src/\u202equay.ts", { toRead: 7 }),
];

it("marks each file, thread and heading, with its words for who cannot tell it by the sign", async () => {
  const answer = answerFor("cy", [remark("ben")]);
  const items = marksOf([...orderItems(files), ...threadItems(wholeView(answer), "all", false)]);
  expect(items.map(({ kind }) => kind)).toEqual(["head", "file", "file", "head", "file", "head", "thread"]);
  const chosen = vi.fn();
  const { user } = showInWorkspace(
    answer,
    items.map((item, i) => <Mark key={String(i)} item={item} chosen={i === 1} onClick={() => chosen(i)} />),
  );
  const names = screen.getAllByRole("button").map((button) => button.textContent);
  expect(names[0]).toContain("1k");
  expect(names[0]).toContain("src/tide.ts: to read");
  expect(names[1]).not.toContain("\u202e");
  expect(names[2]).toContain("src/mast.ts: quiet");
  expect(names[3]).toContain("Ben Oram · plan/hold.ts");
  expect(names[3]).toContain("waits for the author");
  expect(screen.getByRole("button", { current: true }).textContent).toContain("tide.ts");
  expect(screen.getAllByRole("heading").map(({ textContent }) => textContent)).toEqual([
    "To read · 2",
    "Quiet · 1",
    "Open threads · 1",
  ]);
  await user.click(screen.getByRole("button", { name: /quay/ }));
  expect(chosen).toHaveBeenCalledWith(2);
});
