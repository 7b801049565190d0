import { act, cleanup, screen } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import type { Place } from "@/core/anchor/follow";
import type { UnsentRemark } from "@/core/views/api";
import { ANCHOR, answerFor } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { NoteCard, whereNow } from "./note-card";

beforeEach(() => {
  // The text that the remark stands in is asked for while it is written; it is not what these are about.
  new FakeServer({ "GET /api/repos/{repo}/files": () => new Promise(() => {}) });
});

const NOTE: UnsentRemark = {
  ...{ id: "n1", kind: "remark", anchor: ANCHOR, body: "Deeper?", changedAt: 0, weight: "settle", suggestions: [] },
};
function card(more: Partial<UnsentRemark> = {}, fresh = false) {
  const note = { ...NOTE, ...more };
  const page = showInWorkspace(answerFor("ben", [], { unsent: [note] }), <NoteCard note={note} place={null} />, {
    ...{ freshNote: fresh ? "n1" : null },
  });
  return { ...page, saved: () => (page.saveNote.mock.calls as unknown[][]).map(([one]) => (one as UnsentRemark).body) };
}
const field = () => screen.queryByRole<HTMLTextAreaElement>("textbox", { name: /Your remark/ });
const button = (name: string | RegExp) => screen.getByRole("button", { name });

it("is read until it is edited, and kept as it stands when it is done", async () => {
  const { user, saved, leaveNote } = card();
  expect([screen.getByText("Deeper?").tagName, field()]).toEqual(["P", null]);
  await user.click(button("edit"));
  await user.type(field()!, " Much.");
  await user.keyboard("{Escape}");
  expect(saved()).toEqual(["Deeper? Much."]);
  expect([screen.getByText("Deeper? Much.").tagName, field()]).toEqual(["P", null]);
  expect(leaveNote).toHaveBeenCalledWith("n1");
});

it("that was just begun takes what is typed, and leaves nothing behind where nothing was said", async () => {
  const { user, dropNote } = card({ body: "" }, true);
  await vi.waitFor(() => expect(document.activeElement).toBe(field()));
  await user.keyboard("  ");
  await user.keyboard("{Escape}");
  expect(dropNote).toHaveBeenCalledWith({ ...NOTE, body: "" });
});

it("that was left empty is open again, and does not take what is typed elsewhere", () => {
  card({ body: "" });
  expect(field()).not.toBeNull();
  expect(document.activeElement).not.toBe(field());
});

it("is sent by itself once its last words are kept, and not where they cannot be", async () => {
  const { user, command, saveNote, tell } = card();
  await user.click(button("edit"));
  await user.type(field()!, "!");
  saveNote.mockResolvedValue("The server cannot be reached just now." as never);
  await user.click(button(/Done/));
  expect((await screen.findByRole("alert")).textContent).toMatch(/^Not kept yet: The server cannot be reached/);
  await user.click(button("send this one now"));
  expect(command).not.toHaveBeenCalled();
  saveNote.mockResolvedValue(null);
  await user.click(button("send this one now"));
  expect(command).toHaveBeenCalledWith({ kind: "send-one", note: "n1" });
  expect(tell).toHaveBeenLastCalledWith("Sent this one remark.");
});

it("goes on with what the server did not keep when the page is loaded again, unless it was changed elsewhere", async () => {
  const away = "The server cannot be reached just now." as never;
  const first = card();
  first.saveNote.mockResolvedValue(away);
  await first.user.click(button("edit"));
  await first.user.type(field()!, " Much.");
  await first.user.click(button(/Done/));
  await screen.findByRole("alert");
  cleanup();
  const again = card();
  await screen.findByText("Deeper? Much.");
  await vi.waitFor(() => expect(again.saved()).toEqual(["Deeper? Much."]));
  cleanup();
  // It is kept now: nothing is left of it here.
  card();
  expect(screen.getByText("Deeper?")).toBeTruthy();
  cleanup();
  // The page is left before the server says anything.
  const left = card();
  left.saveNote.mockReturnValue(new Promise(() => {}) as never);
  await left.user.click(button("edit"));
  await left.user.type(field()!, " Now?");
  await act(async () => void window.dispatchEvent(new Event("pagehide")));
  cleanup();
  card({ changedAt: 5 });
  expect(screen.getByText("Deeper?")).toBeTruthy();
  expect(Object.keys(window.localStorage).filter((key) => key.includes("note n1"))).toEqual([]);
});

it("is deleted with what was typed last, so that all of it can be brought back", async () => {
  const { user, saveNote, dropNote } = card();
  await user.click(button("edit"));
  await user.type(field()!, " No");
  await user.click(button("delete"));
  expect(dropNote).toHaveBeenCalledWith({ ...NOTE, body: "Deeper? No" });
  expect(saveNote).not.toHaveBeenCalled();
});

it("says what has become of its lines since", () => {
  const place = (status: "unchanged" | "shifted" | "edited", start = 4): Place => ({ status, start, end: start });
  const there = whereNow(ANCHOR, null);
  expect(there).toMatch(/line 4/);
  expect(whereNow(ANCHOR, place("unchanged"))).toBe(there);
  expect(whereNow(ANCHOR, { status: "gone" })).toBe(`${there}: gone since r1`);
  expect(whereNow(ANCHOR, place("edited"))).toBe(`${there}: edited since r1`);
  expect(whereNow(ANCHOR, place("shifted", 9))).toBe("line 9, was 4 in r1");
});
