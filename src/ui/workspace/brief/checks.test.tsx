import { cleanup, screen, within } from "@testing-library/react";
import { expect, it } from "vitest";
import { answerFor, type Happening, type Name } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { Checks } from "./checks";

const commit = "head1".padEnd(40, "0");
const told = (name: string, state: "passed" | "failed" | "running", report: string | null = null): Happening => [
  "gauge",
  "checked",
  { commit, name, state, summary: `${name} said so`, link: "", report },
];

function checks(me: Name, happenings: Happening[], role?: "reader", needed: string[] = []) {
  new FakeServer({
    "GET /api/repos/{repo}/changes/{number}/findings": () => [
      {
        ...{ check: "cover", revision: 1, more: 0, tests: null },
        findings: [
          {
            ...{ tool: "coverage", name: "", level: "note", message: "Changed, and run by no test." },
            ...{ path: "plan/hold.ts", line: 4, endLine: 4 },
          },
        ],
      },
      // So much was found by others that of this one nothing is told but how much it is.
      { check: "loud", revision: 1, findings: [], more: 70, tests: null },
    ],
  });
  const answer = answerFor(me, happenings);
  if (role) answer.mine.me.role = role;
  answer.gate.rule.checks = needed;
  return showInWorkspace(answer, <Checks />);
}
const item = (name: string) => screen.getAllByRole("listitem").find((one) => one.textContent?.includes(name))!;

it("says of each check how it stands, and what it found", async () => {
  const { user } = checks("ben", [told("build", "failed"), told("cover", "passed", "r1"), told("slow", "running")]);
  expect(item("build said so").textContent).toMatch(/failed.*informs/);
  await user.click(await screen.findByText("show 1 finding"));
  expect(screen.getByText("plan/hold.ts:4")).toBeTruthy();
  expect(within(item("slow said so")).queryByRole("button", { name: /again/ })).toBeNull();
});

it("counts what is not told", async () => {
  const { user } = checks("ben", [told("loud", "passed", "r2")]);
  await user.click(await screen.findByText("show 70 findings"));
  expect(screen.getByText("and 70 more")).toBeTruthy();
});

it("asks for one that is over again, and says why not where it is refused", async () => {
  const { user, command, tell } = checks("ben", [told("build", "failed")]);
  command.mockResolvedValueOnce("It is not over yet.");
  await user.click(screen.getByRole("button", { name: "Run again: build" }));
  expect(command).toHaveBeenCalledWith({ kind: "check-again", name: "build" });
  expect(tell).toHaveBeenCalledWith("It is not over yet.");
});

it("names what has to pass and was not told of, as long as it is waited for", () => {
  checks("ben", [told("build", "passed")], undefined, ["build", "words"]);
  expect(item("words").textContent).toMatch(/not reported yet.*must pass/);
  expect(screen.getAllByRole("listitem")).toHaveLength(2);
  cleanup();
  checks("ben", [["ada", "withdrawn", {}]], undefined, ["words"]);
  expect(screen.queryByRole("heading")).toBeNull();
});

it("offers that to nobody who may not", () => {
  checks("ben", [told("build", "failed")], "reader");
  expect(screen.queryByRole("button", { name: /again/ })).toBeNull();
});
