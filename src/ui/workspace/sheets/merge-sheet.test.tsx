import { cleanup, screen } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { makeRule } from "@/core/rules/rule";
import type { MergePreview } from "@/core/views/keeping-view";
import { answerFor, revised } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { MergeSheet } from "./merge-sheet";

const commit = (id: string, subject: string, made: boolean): MergePreview["commits"][number] => ({
  ...{ id: id.repeat(40), subject, made, body: "", author: "Ada Quist", at: 1, parents: [] },
});
const GOES: Omit<MergePreview, "how" | "message"> = {
  ...{ why: null, behind: 0, conflicts: [] },
  commits: [commit("m", "Hold a berth", true), commit("h", "Deeper", false)],
};
const MET = { open: true, conditions: [] };

interface Standing {
  open?: boolean;
  mayPass?: boolean;
  preview?: Partial<MergePreview>;
}

function served(preview: Partial<MergePreview> = {}) {
  return new FakeServer({
    "GET /api/repos/{repo}/changes/{number}/merge": ({ query }) => ({
      ...{ ...GOES, how: query.how as MergePreview["how"], message: `By ${query.how}`, ...preview },
    }),
  });
}

function sheet({ open = true, mayPass = false, preview = {} }: Standing = {}) {
  const server = served(preview);
  const stand = (...later: Parameters<typeof revised>[]) => {
    const answer = answerFor(
      "ada",
      later.map((one) => revised(...one)),
    );
    answer.gate = {
      ...answer.gate,
      ...{ gate: open ? MET : answer.gate.gate, rule: { ...makeRule("main"), merging: ["merge", "squash"] } },
    };
    answer.mine.me.pass = mayPass ? { may: true } : { may: false, why: "Only a keeper can." };
    return answer;
  };
  const [onNewest, onClose] = [vi.fn(), vi.fn()];
  const page = showInWorkspace(stand(), <MergeSheet open onNewest={onNewest} onClose={onClose} />);
  return { ...page, ...{ server, onNewest, onClose }, revise: () => page.again(stand(["ada", 2])) };
}
const button = (name: RegExp) => screen.getByRole<HTMLButtonElement>("button", { name });
const message = () => screen.getByRole<HTMLTextAreaElement>("textbox", { name: "Message of the commit" });

it("shows what the target will have, and merges by the way and with the message that were chosen", async () => {
  const { user, command, tell, onClose } = sheet();
  expect(button(/^Merge r1$|^Merging/).disabled).toBe(true);
  await screen.findByText(/main afterwards, the newest first: 2 commits more/);
  expect(screen.getAllByRole("listitem").map(({ textContent }) => textContent)).toEqual([
    "Hold a berthwritten now",
    "DeeperAda Quist",
  ]);
  await user.type(message(), " and by hand");
  await user.click(screen.getByRole("radio", { name: /One commit/ }));
  // Each way has its own message; what was written for the other waits there.
  await vi.waitFor(() => expect(message().value).toBe("By squash"));
  await user.click(screen.getByRole("radio", { name: /A merge commit/ }));
  expect(message().value).toBe("By merge and by hand");
  await user.click(button(/^Merge r1$/));
  expect(command).toHaveBeenCalledWith({ kind: "merge", revision: 1, message: "By merge and by hand", how: "merge" });
  expect(tell).toHaveBeenCalledWith("Merged into main.");
  expect(onClose).toHaveBeenCalled();
});

it("merges nothing that came while it was open, and leads to what is new", async () => {
  for (const open of [true, false]) {
    const { user, command, server, revise, onNewest, onClose } = sheet({ open });
    await screen.findByText(/2 commits more/);
    revise();
    expect(screen.getByText(/You looked at r1, and r2 has come since/)).toBeTruthy();
    const deed = button(open ? /^Merg/ : /^Merge r1 when the gate opens$|^Asking/);
    expect(deed.disabled).toBe(true);
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(command).not.toHaveBeenCalled();
    // What is shown is still what was looked at, and no other way is tried with what came since.
    await user.click(screen.getByRole("radio", { name: /One commit/ }));
    expect(screen.queryByText(/Trying it out/)).toBeNull();
    const tried = server.of("GET /api/repos/{repo}/changes/{number}/merge");
    expect(tried.map(({ query }) => query)).toEqual([{ how: "merge", revision: "1" }]);
    await user.click(button(/look at what is new first/));
    expect([onNewest, onClose].map(({ mock }) => mock.calls.length)).toEqual([1, 1]);
    cleanup();
  }
});

it("says when another revision is open than the one that it merges", async () => {
  served();
  showInWorkspace(answerFor("ada", [revised("ada", 2)]), <MergeSheet open onNewest={() => {}} onClose={() => {}} />);
  expect(screen.getByText(/What you have open is r1, and this merges r2/)).toBeTruthy();
});

it("waits for a gate that is not met, for the revision that was looked at", async () => {
  const { user, command, tell } = sheet({ open: false });
  expect(screen.getByText("The gate is not met.")).toBeTruthy();
  expect(screen.queryByRole("textbox", { name: /Why/ })).toBeNull();
  await user.click(button(/^Merge r1 when the gate opens$/));
  expect(command).toHaveBeenCalledWith({ kind: "merge-when-open", revision: 1, how: "merge", message: null });
  expect(tell).toHaveBeenCalledWith("It will be merged as soon as the gate opens.");
});

it("is passed by a keeper with a reason alone, and not where it could not be merged at all", async () => {
  const { user, command } = sheet({ open: false, mayPass: true });
  await screen.findByText(/2 commits more/);
  const why = screen.getByRole("textbox", { name: /you can pass it. Why/ });
  await user.type(why, "   ");
  expect(screen.queryByRole("button", { name: /past the gate/ })).toBeNull();
  await user.type(why, "The tide.");
  await user.click(button(/^Merge r1 past the gate$/));
  expect(command).toHaveBeenCalledWith(
    expect.objectContaining({ kind: "merge", revision: 1, passing: "   The tide." }),
  );
  cleanup();
  sheet({ open: false, mayPass: true, preview: { why: "It conflicts in plan/hold.ts." } });
  await screen.findByText(/you could pass the gate, but not this/);
  expect(screen.queryByRole("textbox", { name: /Why/ })).toBeNull();
});

it("says why it was refused, and keeps what was written", async () => {
  const { user, command, onClose } = sheet();
  command.mockResolvedValueOnce("main has moved: try again.");
  await vi.waitFor(() => expect(message().value).toBe("By merge"));
  await user.type(message(), "!");
  await user.click(button(/^Merge r1$/));
  expect(await screen.findByText("main has moved: try again.")).toBeTruthy();
  expect(message().value).toBe("By merge!");
  expect(onClose).not.toHaveBeenCalled();
});
