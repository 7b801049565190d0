import { screen, waitFor } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { answerFor, file } from "../testing/change";
import { showInWorkspace } from "../testing/in-workspace";
import { Nothing, nearestTo } from "./nothing";

it("looks for a file among those that did not change, and offers what comes near when there is none", async () => {
  const onOther = vi.fn(async () => false);
  const onChoose = vi.fn();
  const given = { path: "src/tides.ts", files: [file("lib/tides.ts")], onOther, onChoose };
  const { user } = showInWorkspace(answerFor("ben"), <Nothing {...given} words={null} />);
  await waitFor(() => expect(screen.getByRole("status").textContent).toContain("There is no file src/tides.ts here"));
  await user.click(screen.getByRole("button", { name: "Open lib/tides.ts" }));
  await user.click(screen.getByRole("button", { name: "to the brief" }));
  expect(onChoose.mock.calls).toEqual([["lib/tides.ts"], [null]]);
});

it("does not look before the comparison is done", () => {
  const onOther = vi.fn(async () => false);
  showInWorkspace(
    answerFor("ben"),
    <Nothing path="a" words="Comparing …" files={[]} onOther={onOther} onChoose={() => {}} />,
  );
  expect(screen.getByText("Comparing …")).toBeTruthy();
  expect(onOther).not.toHaveBeenCalled();
});

it("finds the same name before the same folder", () => {
  const files = ["src/quay.ts", "src/tide/table.ts", "docs/tides.ts"].map((path) => file(path));
  expect(nearestTo("src/tides.ts", files)?.path).toBe("docs/tides.ts");
  expect(nearestTo("src/tide/tabel.ts", files)?.path).toBe("src/tide/table.ts");
  expect(nearestTo("x", [])).toBeNull();
});
