import { screen } from "@testing-library/react";
import { expect, it } from "vitest";
import { answerFor, type Happening } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { Checks } from "./checks";

const commit = "head1".padEnd(40, "0");
const told = (name: string, state: "passed" | "running"): Happening => [
  "gauge",
  "checked",
  { commit, name, state, summary: "", link: "", report: null },
];

function checks(state: "passed" | "running", tail: () => string) {
  const answer = answerFor("ben", [told("build", state)]);
  const { by } = answer.change!.checks[0];
  new FakeServer({
    "GET /api/repos/{repo}/changes/{number}/logs": () => [
      { name: "build", by, part: 0.25, at: 1, last: "tests 3 of 12" },
    ],
    "GET /api/repos/{repo}/changes/{number}/log": () => ({ tail: tail() }),
  });
  return showInWorkspace(answer, <Checks />);
}

it("tells of a check that runs how far it is and what it wrote last", async () => {
  const { user } = checks("running", () => "tests 2 of 12\ntests 3 of 12\n");
  expect(await screen.findByText("tests 3 of 12")).toBeTruthy();
  expect(screen.getByRole("progressbar", { name: "How far build is" }).getAttribute("aria-valuenow")).toBe("25");
  await user.click(screen.getByText("tests 3 of 12"));
  expect((await screen.findByText(/tests 2 of 12/)).textContent).toBe("tests 2 of 12\ntests 3 of 12\n");
});

it("keeps the log of one that is over at hand, as text and without a bar", async () => {
  const { user } = checks("passed", () => "<b>done</b>");
  await user.click(await screen.findByText("show its log"));
  expect(await screen.findByText("<b>done</b>")).toBeTruthy();
  expect(screen.queryByRole("progressbar")).toBeNull();
});
