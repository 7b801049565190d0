import { cleanup, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { answerFor, type Happening, type Name } from "../../testing/change";
import { FakeServer, refuses } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { GatePanel } from "./gate-panel";

const approved: Happening = ["ben", "reviewed", { revision: 1, verdict: "approve", remark: "", remarks: [] }];
const asks: Happening = ["ben", "reviewed", { revision: 1, verdict: "request-changes", remark: "No.", remarks: [] }];

function panel(me: Name, happenings: Happening[] = [], change = (_: ReturnType<typeof answerFor>) => {}) {
  const server = new FakeServer({
    "GET /api/repos/{repo}/changes/{number}/yardstick": () => ({ names: [], name: null, files: [] }),
  });
  const answer = answerFor(me, happenings);
  change(answer);
  const onMerge = vi.fn();
  return { ...showInWorkspace(answer, <GatePanel onMerge={onMerge} />), server, onMerge };
}
const text = () => screen.getByRole("complementary").textContent ?? "";

describe("the gate", () => {
  it("says of each condition how it stands and who can meet it", () => {
    panel("ada");
    const approvals = screen.getAllByRole("listitem").find((item) => /approval/.test(item.textContent ?? ""));
    expect(approvals?.textContent).toMatch(/not met/);
    expect(approvals?.textContent).toContain("Can give it: Ben Oram and Cy Tull.");
    expect(screen.getByRole("button", { name: "Look at the merge, or have it wait …" })).toBeTruthy();
  });

  it("leads to the merge when it is met", async () => {
    const { user, onMerge } = panel("ada", [approved]);
    expect(text()).not.toContain("○ not met");
    await user.click(screen.getByRole("button", { name: "Merge r1 …" }));
    expect(onMerge).toHaveBeenCalled();
  });

  it("says why somebody may not merge", () => {
    panel("ben", [approved]);
    expect(text()).toContain("That is for others.");
    expect(screen.queryByRole("button", { name: /Merge/ })).toBeNull();
  });

  it("warns where there is no rule", () => {
    panel("ada", [], (answer) => {
      answer.gate.rule = { ...answer.gate.rule, branches: "" };
    });
    expect(text()).toContain("There is no rule for this branch");
  });

  it("asks before it is withdrawn, and does not when that was a slip", async () => {
    const { user, command } = panel("ada");
    await user.click(screen.getByRole("button", { name: "withdraw this change set" }));
    await user.click(screen.getByRole("button", { name: "no" }));
    expect(command).not.toHaveBeenCalled();
    await user.click(screen.getByRole("button", { name: "withdraw this change set" }));
    await user.click(screen.getByRole("button", { name: "yes, withdraw" }));
    expect(command).toHaveBeenCalledWith({ kind: "withdraw" });
  });

  it("says who hears of a draft that is ready", async () => {
    const { user, command, tell } = panel("ada", [
      ["ada", "asked", { invited: [{ person: "cy" }, { role: "keeper" }] }],
      ["ada", "drafted", {}],
    ]);
    expect(text()).toContain("Cy Tull and every keeper will be asked then.");
    await user.click(screen.getByRole("button", { name: "It is ready: ask for reviews" }));
    expect(command).toHaveBeenCalledWith({ kind: "ready" });
    // What happened is said, with the way back.
    const [said, undo] = tell.mock.lastCall!;
    expect(said).toBe("It is ready. Cy Tull and every keeper were asked.");
    undo!();
    await waitFor(() => expect(tell).toHaveBeenLastCalledWith("It is as it was."));
    expect(command).toHaveBeenLastCalledWith({ kind: "draft" });
  });

  it("lets a request for changes be taken back by its writer, and tells a refusal", async () => {
    const { user, command, tell } = panel("ben", [asks]);
    command.mockResolvedValueOnce("This change set is merged already.");
    const button = screen.getAllByRole("button").find(({ textContent }) => /take/i.test(textContent ?? ""))!;
    await user.click(button);
    const confirm = screen.queryAllByRole("button").find((one) => /yes|take it back|lift/i.test(one.textContent ?? ""));
    if (command.mock.calls.length === 0 && confirm) await user.click(confirm);
    expect(command).toHaveBeenCalledWith({ kind: "lift", person: "ben", reason: "" });
    await waitFor(() => expect(tell.mock.calls.flat().join() + text()).toContain("This change set is merged already."));
  });

  it("offers to lift what others asked to those who may", () => {
    const offer = () => screen.queryByRole("button", { name: "lift the request of Ben Oram" });
    panel("cy", [asks]);
    expect(offer()).toBeNull();
    cleanup();
    panel("cy", [asks], ({ mine }) => {
      mine.me.lift = { may: true };
    });
    expect(offer()).not.toBeNull();
  });

  it("tells of a merge that waits, and why one fell", () => {
    panel("ada", [["ada", "merge-asked", { kind: "merge", message: null }]]);
    expect(text()).toContain("You asked that it be merged as soon as the gate opens.");
  });
});

describe("how it ended", () => {
  const merged: Happening = [
    "cy",
    "merged",
    { revision: 1, commit: "c".repeat(40), target: "t", message: "m", passing: "The tide does not wait." },
  ];

  it("says by whom, as what, and why the gate was passed", () => {
    panel("ada", [merged]);
    expect(text()).toContain("By Cy Tull");
    expect(text()).toContain("c".repeat(40));
    expect(text()).toContain("Cy Tull passed it: The tide does not wait.");
  });

  it("tells why it cannot be taken back", async () => {
    const { user, server, tell } = panel("ada", [merged]);
    server.now({
      "POST /api/repos/{repo}/changes/{number}/revert": () => refuses("conflict", "It was taken back already."),
    });
    await user.click(screen.getByRole("button", { name: "Take it back …" }));
    const yes = screen.queryAllByRole("button").find((one) => /yes/i.test(one.textContent ?? ""));
    if (yes) await user.click(yes);
    await waitFor(() => expect(tell).toHaveBeenCalledWith("It was taken back already."));
  });

  it("opens a withdrawn one again, where that may be", async () => {
    const { user, command } = panel("ada", [["ada", "withdrawn", {}]], (answer) => {
      answer.mine.me.openAgain = { may: true };
    });
    await user.click(screen.getByRole("button", { name: "Open it again" }));
    expect(command).toHaveBeenCalledWith({ kind: "open-again" });
  });
});
