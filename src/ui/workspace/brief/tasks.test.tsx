import { screen } from "@testing-library/react";
import { expect, it } from "vitest";
import type { UnsentTask } from "@/core/views/api";
import { answerFor } from "../../testing/change";
import { showInWorkspace } from "../../testing/in-workspace";
import { Tasks } from "./tasks";

const NOTE: UnsentTask = { id: "n1", kind: "task", body: "Ring the pilots", changedAt: 0, assignee: null };
const field = () => screen.getByRole<HTMLInputElement>("textbox", { name: "What is to be done" });

it("takes what is typed as soon as it is begun, and asks for the focus no more once it was left", async () => {
  const { user, leaveNote } = showInWorkspace(answerFor("ben", [], { unsent: [NOTE] }), <Tasks />, { freshNote: "n1" });
  expect(document.activeElement).toBe(field());
  expect(leaveNote).not.toHaveBeenCalled();
  await user.keyboard(" first");
  expect(field().value).toBe("Ring the pilots first");
  field().blur();
  expect(leaveNote.mock.calls).toEqual([["n1"]]);
});

it("that was begun before is there without the focus", () => {
  showInWorkspace(answerFor("ben", [], { unsent: [NOTE] }), <Tasks />);
  expect([field().value, document.activeElement === field()]).toEqual(["Ring the pilots", false]);
});
