import { cleanup, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Gate } from "@/core/rules/gate";
import type { Progress, Unsent } from "@/core/views/api";
import { ANCHOR, answerFor, commits, type Name, revised } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { SendReview } from "./send-review";

const note: Unsent = {
  ...{ kind: "remark", id: "n1", body: "Why?", changedAt: 1, weight: "settle", suggestions: [], anchor: ANCHOR },
};
const MET: Gate = { open: true, conditions: [] };
const SHORT: Gate = {
  open: false,
  conditions: [{ id: "a", key: "approvals", met: false, says: "One is missing.", people: [], who: null, canMeet: [] }],
};

let progress: Record<string, Progress> = {};
function sheet(me: Name, unsent: Unsent[] = [], later = false) {
  new FakeServer({
    "GET /api/repos/{repo}/changes/{number}/gate": ({ query }) => (query.verdict === "approve" ? MET : SHORT),
    "GET /api/repos/{repo}/changes/{number}/progress": () => progress,
  });
  const onClose = vi.fn();
  const onNewest = vi.fn();
  const answer = answerFor(me, later ? [revised("ada", 2)] : [], { unsent });
  const page = showInWorkspace(answer, <SendReview open revision={1} onNewest={onNewest} onClose={onClose} />);
  return { ...page, onClose, onNewest };
}
const choice = (name: RegExp) => screen.getByRole("radio", { name }) as HTMLInputElement;

describe("sending", () => {
  it("asks for a verdict first, then sends all as one, and says what went out", async () => {
    const { user, command, tell, onClose } = sheet("ben", [
      note,
      { kind: "task", id: "n2", body: "Ring Cy", changedAt: 1, assignee: null },
    ]);
    await user.click(screen.getByRole("button", { name: "Send" }));
    expect(screen.getByText("Choose a verdict first.")).toBeTruthy();
    expect(command).not.toHaveBeenCalled();
    await user.type(screen.getByLabelText("Closing word, in Markdown"), "Good.");
    await user.click(choice(/Approve/));
    await user.click(screen.getByRole("button", { name: "Send" }));
    const { head, base } = commits(1);
    expect(command).toHaveBeenCalledWith({
      ...{ kind: "send-review", revision: 1, read: { head, base }, verdict: "approve", remark: "Good." },
    });
    expect(tell).toHaveBeenCalledWith("Sent: 1 remark, 1 task and your approval.");
    expect(onClose).toHaveBeenCalled();
  });

  it("tells who approves mostly unread lines so, and lets it be", async () => {
    progress = { ben: { read: 3, total: 40 } };
    const { user, command } = sheet("ben");
    await user.click(choice(/Approve/));
    await screen.findByText(/You have marked 3 of 40 lines read. You can approve it all the same./);
    await user.click(choice(/No verdict/));
    expect(screen.queryByText(/You have marked/)).toBeNull();
    await user.click(choice(/Approve/));
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(command).toHaveBeenCalledTimes(1);
    progress = { ben: { read: 30, total: 40 } };
  });

  it("tells so of who has marked nothing at all, and nothing of who has read most", async () => {
    progress = {};
    const { user } = sheet("ben");
    await user.click(choice(/Approve/));
    await screen.findByText(/You have marked none of its lines read/);
    cleanup();
    progress = { ben: { read: 30, total: 40 } };
    const again = sheet("ben");
    await again.user.click(choice(/Approve/));
    await screen.findByText("met, it can be merged.", { exact: false });
    expect(screen.queryByText(/You have marked/)).toBeNull();
  });

  it("mends a suggestion that changes nothing, and Ctrl Enter there sends nothing", async () => {
    const suggestion = { id: "s1", start: 2, end: 2, was: ["two"], lines: ["two"] };
    const { user, command, saveNote } = sheet("ben", [{ ...note, suggestions: [suggestion] }]);
    expect(screen.getByText(/changes nothing: edit it, or take it out/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "edit" }));
    const field = screen.getByLabelText("Other text for lines 2 to 2");
    await user.type(field, "!");
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(screen.queryByLabelText("Other text for lines 2 to 2")).toBeNull();
    expect(screen.queryByText(/changes nothing/)).toBeNull();
    await waitFor(() => expect(saveNote).toHaveBeenCalled());
    expect(command).not.toHaveBeenCalled();
  });

  it("stays open with its words when it is refused", async () => {
    const { user, command, onClose } = sheet("ben", [note]);
    command.mockResolvedValueOnce("The server cannot be reached just now.");
    await user.type(screen.getByLabelText("Closing word, in Markdown"), "Good.");
    await user.click(choice(/No verdict/));
    await user.click(screen.getByRole("button", { name: "Send" }));
    expect(screen.getByText("The server cannot be reached just now.")).toBeTruthy();
    expect((screen.getByLabelText("Closing word, in Markdown") as HTMLTextAreaElement).value).toBe("Good.");
    expect(onClose).not.toHaveBeenCalled();
  });

  it("has the closing word again that the server did not keep, and not once it was sent", async () => {
    const word = () => (screen.getByLabelText("Closing word, in Markdown") as HTMLTextAreaElement).value;
    const first = sheet("ben", [note]);
    first.saveNote.mockResolvedValue("The server cannot be reached just now." as never);
    await first.user.type(screen.getByLabelText("Closing word, in Markdown"), "Good.");
    await screen.findByText(/Not kept yet/);
    cleanup();
    const again = sheet("ben", [note]);
    await waitFor(() => expect(word()).toBe("Good."));
    await again.user.click(choice(/No verdict/));
    await again.user.click(screen.getByRole("button", { name: "Send" }));
    expect(again.command).toHaveBeenCalledWith(expect.objectContaining({ remark: "Good." }));
    cleanup();
    sheet("ben", [note]);
    expect(word()).toBe("");
  });

  it("says what the gate will be for the chosen verdict", async () => {
    const { user } = sheet("ben", [note]);
    await user.click(choice(/Request changes/));
    await waitFor(() => expect(screen.getByText(/One is missing/)).toBeTruthy());
    await user.click(choice(/Approve/));
    await waitFor(() => expect(screen.getByText(/met, it can be merged/)).toBeTruthy());
  });

  it("lets the author remark and give no verdict", () => {
    sheet("ada", [note]);
    expect(choice(/No verdict/).checked).toBe(true);
    expect(choice(/Approve/).disabled).toBe(true);
    expect(screen.getByText("That is for others.")).toBeTruthy();
  });

  it("does not let an old revision be approved, and leads to what is new", async () => {
    const { user, onNewest, onClose } = sheet("ben", [note], true);
    expect(choice(/Approve/).disabled).toBe(true);
    expect(choice(/Request changes/).disabled).toBe(false);
    await user.click(screen.getByRole("button", { name: "look at what is new first" }));
    expect(onNewest).toHaveBeenCalled();
    expect(onClose).toHaveBeenCalled();
  });

  it("leads to where a remark stands", async () => {
    const { user, goTo, onClose } = sheet("ben", [note]);
    await user.click(screen.getByRole("button", { name: "go there" }));
    expect(goTo).toHaveBeenCalledWith(ANCHOR, null);
    expect(onClose).toHaveBeenCalled();
  });
});
