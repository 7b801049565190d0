import { act, fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Unsent } from "@/core/views/api";
import { ANCHOR, answerFor, type Happening, type Name, remark, revised } from "../../testing/change";
import { showInWorkspace } from "../../testing/in-workspace";
import { ThreadCard } from "./thread-card";

const said = (by: Name, comment: string, body: string): Happening => [by, "replied", { thread: "t1", comment, body }];
const NOTE: Unsent = {
  ...{ kind: "remark", id: "n1", body: "Why?", changedAt: 1, weight: "settle", suggestions: [], anchor: ANCHOR },
};
const resolved: Happening = ["ada", "resolved", { thread: "t1" }];

function card(me: Name, happenings: Happening[], more: { active?: boolean; role?: "keeper"; unsent?: Unsent[] } = {}) {
  const answer = answerFor(me, happenings, { unsent: more.unsent ?? [] });
  if (more.role) answer.mine.me.role = more.role;
  const [thread] = answer.change.threads;
  const page = showInWorkspace(answer, <ThreadCard thread={thread} place={null} />, {
    activeThread: more.active === false ? null : "t1",
  });
  return { ...page, article: screen.getByRole("article") };
}
const press = (key: string) => fireEvent.keyDown(window, { key });

describe("a thread", () => {
  it("is answered, with the field focused and nothing sent while it is empty", async () => {
    const { user, command, article } = card("ada", [remark("ben")]);
    await user.click(within(article).getByRole("button", { name: /^reply/ }));
    const field = screen.getByLabelText("Your reply, in Markdown");
    expect(document.activeElement).toBe(field);
    expect((screen.getByRole("button", { name: "Reply" }) as HTMLButtonElement).disabled).toBe(true);
    await user.type(field, "Because of the silt.");
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(command).toHaveBeenCalledWith({ kind: "reply", thread: "t1", body: "Because of the silt." });
    expect(screen.queryByLabelText("Your reply, in Markdown")).toBeNull();
  });

  it("marks what nobody else was given yet, in a clone", () => {
    const answer = answerFor("ada", [remark("ben"), said("ada", "c2", "Because.")]);
    answer.around.keptHere = ["c2"];
    showInWorkspace(answer, <ThreadCard thread={answer.change.threads[0]} place={null} />, { activeThread: "t1" });
    const [first, second] = screen.getAllByRole("listitem");
    expect(first.textContent).not.toContain("here alone");
    expect(second.textContent).toContain("here alone");
  });

  it("keeps what was typed when it is refused, and says why", async () => {
    const { user, command, article } = card("ada", [remark("ben")]);
    command.mockResolvedValueOnce("The server cannot be reached just now.");
    await user.click(within(article).getByRole("button", { name: /^reply/ }));
    await user.type(screen.getByLabelText("Your reply, in Markdown"), "So.");
    await user.click(screen.getByLabelText("and resolve the thread"));
    await user.click(screen.getByRole("button", { name: "Reply" }));
    expect(command).toHaveBeenCalledWith({ kind: "resolve", thread: "t1", body: "So." });
    expect(screen.getByRole("alert").textContent).toMatch(/cannot be reached/);
    expect((screen.getByLabelText("Your reply, in Markdown") as HTMLTextAreaElement).value).toBe("So.");
  });

  it("is answered with the review while one is being written, and at once otherwise; the other way is one press", async () => {
    const { user, command, saveNote, article } = card("ada", [remark("ben")], { unsent: [NOTE] });
    await user.click(within(article).getByRole("button", { name: /^reply/ }));
    await user.type(screen.getByLabelText("Your reply, in Markdown"), "Later.");
    let keep!: () => void;
    saveNote.mockReturnValueOnce(
      new Promise((resolve) => {
        keep = () => resolve(null);
      }),
    );
    // Pressed twice while the first is on its way, it is kept once.
    await user.keyboard("{Control>}{Enter}{/Control}");
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(saveNote).toHaveBeenCalledTimes(1);
    await act(async () => keep());
    expect(command).not.toHaveBeenCalled();
    expect(saveNote).toHaveBeenCalledWith(
      expect.objectContaining({ kind: "reply", thread: "t1", body: "Later.", resolves: false }),
    );
    await user.click(within(article).getByRole("button", { name: /^reply/ }));
    await user.type(screen.getByLabelText("Your reply, in Markdown"), "Now.");
    await user.click(screen.getByRole("button", { name: "Send it now" }));
    expect(command).toHaveBeenCalledWith({ kind: "reply", thread: "t1", body: "Now." });
  });

  it("shows an answer that waits, to be changed, sent by itself or dropped", async () => {
    const reply: Unsent = {
      kind: "reply",
      id: "n2",
      thread: "t1",
      body: "Since it silts up.",
      resolves: true,
      changedAt: 1,
    };
    const { user, command, dropNote } = card("ada", [remark("ben")], { unsent: [reply] });
    const own = screen.getByRole("region", { name: "Your unsent answer" });
    expect(own.textContent).toContain("You, and it resolves the thread");
    expect(screen.queryByRole("button", { name: /^reply/ })).toBeNull();
    await user.click(within(own).getByRole("button", { name: "edit" }));
    await user.type(screen.getByLabelText("Your answer, in Markdown"), " Daily.");
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(own.textContent).toContain("Since it silts up. Daily.");
    await user.click(within(own).getByRole("button", { name: "send it now" }));
    expect(command).toHaveBeenCalledWith({ kind: "send-one", note: "n2" });
    await user.click(within(own).getByRole("button", { name: "delete" }));
    expect(dropNote).toHaveBeenCalled();
  });

  it("is resolved and opened by a key, while it is the one that is looked at", () => {
    const open = card("ada", [remark("ben")]);
    press("x");
    expect(open.command).toHaveBeenCalledWith({ kind: "resolve", thread: "t1" });
  });

  it("is not resolved by a key while another is looked at, nor by who has no say in it", () => {
    const other = card("ada", [remark("ben")], { active: false });
    press("x");
    expect(other.command).not.toHaveBeenCalled();
  });

  it("is shown in one line once it is resolved, and unfolds", async () => {
    const { user, command, article } = card("ben", [remark("ben"), said("ada", "k2", "It is."), resolved]);
    expect(article.textContent).toContain("✓ resolved at r1 by Ada Quist");
    expect(article.textContent).toContain("1 reply");
    expect(article.textContent).not.toContain("It is.");
    await user.click(within(article).getByRole("button", { name: /Deeper/ }));
    expect(article.textContent).toContain("It is.");
    press("x");
    expect(command).toHaveBeenCalledWith({ kind: "reopen", thread: "t1" });
  });

  it("folds its middle when it is long", async () => {
    const many = Array.from({ length: 12 }, (_, i) => said(i % 2 ? "ben" : "ada", `r${i}`, `Word ${i}.`));
    const { user, article } = card("ada", [remark("ben"), ...many]);
    expect(article.textContent).toContain("Deeper?");
    expect(article.textContent).toContain("Word 11.");
    expect(article.textContent).not.toContain("Word 1.");
    await user.click(within(article).getByRole("button", { name: /earlier repl/ }));
    expect(article.textContent).toContain("Word 1.");
  });

  it("takes what people write as text, and erases what was deleted", () => {
    const { article } = card("ada", [
      remark("ben", "<img src=x onerror=alert(1)> <b>bold</b>"),
      said("ben", "k2", "Gone soon."),
      ["ben", "erased", { thread: "t1", comment: "k2" }],
    ]);
    expect(article.querySelector("img, b")).toBeNull();
    expect(article.textContent).not.toContain("Gone soon.");
  });

  it("lets its writer say whether it must be settled, and nobody else but keepers", async () => {
    const mine = card("ben", [remark("ben")]);
    await mine.user.click(within(mine.article).getByRole("button", { name: /settle|aside/i }));
    expect(mine.command).toHaveBeenCalledWith({ kind: "weigh", thread: "t1", weight: "aside" });
  });

  it("is not weighed by others", () => {
    const { article } = card("ada", [remark("ben"), revised("ada", 2)]);
    expect(within(article).queryByRole("button", { name: /aside/i })).toBeNull();
  });
});
