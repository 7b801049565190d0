import { cleanup, screen, within } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import type { Points } from "@/core/reading/points";
import { answerFor, remark, revised } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { RevisionsSheet } from "./revisions-sheet";

const size = (files: number) => ({ files, added: 1_200 * files, removed: 3 * files, toRead: 40 * files });
let server: FakeServer;
beforeEach(() => {
  server = new FakeServer({ "GET /api/repos/{repo}/changes/{number}/sizes": () => [size(2), size(1), size(0)] });
});

function sheet(points: Points) {
  const answer = (...numbers: number[]) => answerFor("ben", [remark("ben"), ...numbers.map((n) => revised("ada", n))]);
  const [onChoose, onClose] = [vi.fn(), vi.fn()];
  const page = showInWorkspace(answer(2, 3), <RevisionsSheet open {...{ points, onChoose, onClose }} />);
  return { ...page, onChoose, onClose, revise: () => page.again(answer(2, 3, 4)) };
}
const point = (name: string) => screen.getByRole<HTMLInputElement>("radio", { name });
const deed = () => screen.getAllByRole<HTMLButtonElement>("button").at(-1)!;
const row = (name: string) => point(name).closest("tr")!;

it("tells of each revision what it brought and what was said of it", async () => {
  sheet({ kind: "revision", from: "base", to: 3 });
  expect(await within(row("To r1")).findByText("+2,400 −6 in 2 files, 80 to read")).toBeTruthy();
  expect(row("To r1").textContent).toMatch(/r1 as it was offered by Ada Quist.*remarks by you, 1 remark/);
  // What only came from the target is nothing that the author did.
  expect(row("To r3").textContent).toContain("nothing of the author’s");
  expect(row("To r2").textContent).not.toMatch(/remark/);
});

it("begins with what is read now, and reads between any two that come one after the other", async () => {
  const { user, onChoose, onClose } = sheet({ kind: "revision", from: 1, to: 2 });
  expect([point("From r1").checked, point("To r2").checked]).toEqual([true, true]);
  await user.click(point("From r3"));
  expect(screen.getByRole("alert").textContent).toBe("The first of the two has to come before the second.");
  expect(deed().disabled).toBe(true);
  await user.keyboard("{Enter}");
  expect(onChoose).not.toHaveBeenCalled();
  await user.click(point("From r2"));
  await user.click(point("To r3"));
  expect(deed().textContent).toBe("Read from r2 to r3");
  await user.keyboard("{Enter}");
  expect(onChoose).toHaveBeenCalledWith({ kind: "revision", from: 2, to: 3 });
  expect(onClose).toHaveBeenCalledTimes(1);
});

it("reads all of the newest one where what is read is no pair of revisions", async () => {
  const others: Points[] = [
    { kind: "revision", from: "read", to: 3 },
    { kind: "commits", first: "c1", last: "c2" },
    { kind: "yardstick", name: "live", to: 3 },
  ];
  for (const points of others) {
    const { user, onChoose } = sheet(points);
    await user.click(deed());
    expect(onChoose).toHaveBeenCalledWith({ kind: "revision", from: "base", to: 3 });
    cleanup();
  }
});

it("keeps what was chosen when another revision comes, and asks how large that is", async () => {
  const { user, revise, onChoose } = sheet({ kind: "revision", from: "base", to: 3 });
  await user.click(point("From r2"));
  revise();
  expect([point("From r2").checked, point("To r3").checked, point("To r4").checked]).toEqual([true, true, false]);
  await vi.waitFor(() => expect(server.of("GET /api/repos/{repo}/changes/{number}/sizes")).toHaveLength(2));
  await user.click(deed());
  expect(onChoose).toHaveBeenCalledWith({ kind: "revision", from: 2, to: 3 });
});
