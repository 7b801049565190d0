import { screen, within } from "@testing-library/react";
import { beforeEach, expect, it } from "vitest";
import type { Progress } from "@/core/views/api";
import { answerFor, type Happening, type Name, remark, revised } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { Reviewers } from "./reviewers";

let progress: Record<string, Progress> = {};
beforeEach(() => {
  progress = {};
  new FakeServer({ "GET /api/repos/{repo}/changes/{number}/progress": () => progress });
});
const verdict = (by: Name, of: "approve" | "request-changes"): Happening => {
  return [by, "reviewed", { revision: 1, verdict: of, remark: "So.", remarks: [] }];
};
const asked = (...people: Name[]): Happening => ["ada", "asked", { invited: people.map((person) => ({ person })) }];
const section = (me: Name, happenings: Happening[]) => showInWorkspace(answerFor(me, happenings), <Reviewers />);
const row = (name: string) => screen.getByText(name).closest("li")!;
const words = (name: string) => row(name).textContent;

it("says who was asked and where each stands, of which revision, and how far they have come", async () => {
  progress = { ben: { read: 12, total: 40 }, cy: { read: 40, total: 40 }, ada: { read: 40, total: 40 } };
  section("ada", [asked("ben", "cy"), verdict("cy", "approve"), revised("ada", 2), remark("gauge")]);
  expect(await within(row("Ben Oram")).findByText(/has read 12 of 40 lines/)).toBeTruthy();
  expect(words("Ben Oram")).toMatch(/asked by you · has read 12/);
  expect(words("Cy Tull")).toMatch(/approved r1, before the newest · has read all of r2/);
  // Neither the author nor a machine reviews it.
  expect(screen.getAllByRole("listitem")).toHaveLength(2);
});

it("counts whoever came by themselves, and says in the second person what is one’s own", () => {
  section("ben", [verdict("ben", "request-changes"), remark("cy")]);
  expect(words("You")).toMatch(/ask for changes in r1/);
  expect(words("Cy Tull")).toMatch(/has remarked, without a verdict/);
  // Who is not the author asks nobody.
  expect(screen.queryByRole("button")).toBeNull();
});

it("lets the author ask, ask again and take it back, each with a way back", async () => {
  const { user, command, tell } = section("ada", [
    ...[asked("ben"), verdict("ben", "request-changes"), verdict("cy", "request-changes"), revised("ada", 2)],
  ]);
  await user.click(screen.getByRole("button", { name: "Ask Ben Oram to look again" }));
  expect(command).toHaveBeenLastCalledWith({ kind: "ask-again", people: ["ben"] });
  expect(tell).toHaveBeenLastCalledWith("Ben Oram was asked to look again.", undefined);
  await user.click(screen.getByRole("button", { name: "Ask all 2 to look again" }));
  expect(command).toHaveBeenLastCalledWith({ kind: "ask-again", people: ["ben", "cy"] });
  await user.click(screen.getByRole("button", { name: "Withdraw: do not ask Ben Oram any longer" }));
  expect(command).toHaveBeenLastCalledWith({ kind: "unask", invited: { person: "ben" } });
  const [said, undo] = tell.mock.calls.at(-1)!;
  expect(said).toBe("Ben Oram is not asked any more.");
  undo?.();
  expect(command).toHaveBeenLastCalledWith({ kind: "ask", invited: [{ person: "ben" }] });
  await user.click(screen.getByRole("button", { name: /Ask for a review/ }));
  // Who was asked already, and the author, are not among them.
  expect(screen.getAllByRole("menuitem").map(({ textContent }) => textContent)).toEqual([
    ...["Cy Tull", "any contributor", "any keeper"],
  ]);
  await user.click(screen.getByRole("menuitem", { name: "any keeper" }));
  expect(command).toHaveBeenLastCalledWith({ kind: "ask", invited: [{ role: "keeper" }] });
});

it("lets somebody who was asked step back", async () => {
  const { user, command } = section("ben", [asked("ben")]);
  expect(words("You")).toMatch(/asked by Ada Quist/);
  await user.click(screen.getByRole("button", { name: "step back" }));
  expect(command).toHaveBeenCalledWith({ kind: "step-back" });
});
