import { screen } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { answerFor } from "../../testing/change";
import { showInWorkspace } from "../../testing/in-workspace";
import { Reply } from "./reply";

it("is not offered to wait for a review that cannot be sent any more", async () => {
  const onSend = vi.fn();
  const reply = { body: "So.", onBody: vi.fn(), busy: false, mayResolve: false, onSend, onCancel: vi.fn() };
  const { user } = showInWorkspace(answerFor("ada"), <Reply {...reply} mayWait={false} inReview />);
  expect(screen.queryByRole("button", { name: /with the review/ })).toBeNull();
  await user.click(screen.getByRole("button", { name: "Reply" }));
  expect(onSend).toHaveBeenCalledWith("So.", false, false);
});
