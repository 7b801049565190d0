import { render, screen, within } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { ListLine } from "@/core/views/desk-view";
import { FakeServer, refuses } from "../testing/fake-server";
import { Several } from "./several";

const refresh = vi.fn();
vi.mock("next/navigation", () => ({ useRouter: () => ({ refresh }) }));

const line = (number: number, waits: ListLine["waits"]): ListLine => ({
  ...{ repository: "quay", number, title: `Take ${number}`, state: "draft", author: "Ada", authorId: "ada" },
  ...{
    source: "s",
    target: "main",
    revision: 1,
    changedAt: 0,
    openThreads: 0,
    keptHere: null,
    load: null,
    fresh: null,
    gate: null,
    labels: [],
    checks: "none",
  },
  ...{ reasons: ["So."], waits },
});

function page(grouped = true) {
  const server = new FakeServer({
    "POST /api/repos/{repo}/changes/{number}": ({ parts }) =>
      parts.number === "2" ? refuses("forbidden", "That is for others.") : ({ change: null } as never),
  });
  const lines = [line(1, "them"), line(2, "me"), line(3, "them")];
  const people = [{ id: "ben", fullName: "Ben Brook" }];
  render(<Several {...{ lines, grouped, people }} labels={["tides"]} />);
  const sent = () =>
    server
      .of("POST /api/repos/{repo}/changes/{number}")
      .map(({ parts, body }) => [parts.number, { ...(body as object), key: undefined }]);
  const choose = (number: number) => screen.getByRole("checkbox", { name: `Choose quay ${number}, Take ${number}` });
  return { server, sent, choose, user: userEvent.setup() };
}

describe("several change sets at once", () => {
  it("stand under who has to move, mine first; in another order they stand as they are", () => {
    page();
    expect(screen.getAllByRole("heading", { level: 2 }).map((one) => one.textContent)).toEqual([
      "For you to move",
      "For others to move",
    ]);
    expect(within(screen.getByRole("region", { name: "For you to move" })).getByText("Take 2")).toBeTruthy();
  });

  it("stand without headings where an order was asked for", () => {
    page(false);
    expect(screen.queryAllByRole("heading")).toEqual([]);
  });

  it("are labelled, those that may not be are told with the reason, and undo takes back what was done alone", async () => {
    const { sent, choose, user } = page();
    for (const number of [1, 2, 3]) await user.click(choose(number));
    await user.selectOptions(screen.getByLabelText("Label"), "tides");
    await screen.findByText("2 change sets: labelled tides. Not quay 2: That is for others.");
    expect(sent()).toEqual([1, 2, 3].map((n) => [String(n), { kind: "label", put: ["tides"], take: [] }]));
    expect(refresh).toHaveBeenCalled();
    await user.click(screen.getByRole("button", { name: "undo" }));
    await screen.findByText("2 change sets: as it was before.");
    expect(sent().slice(3)).toEqual(["1", "3"].map((n) => [n, { kind: "label", put: [], take: ["tides"] }]));
  });

  it("are asked for by name or by role, and made ready", async () => {
    const { sent, choose, user } = page();
    await user.click(choose(3));
    await user.selectOptions(screen.getByLabelText("Ask for a review"), "Ben Brook");
    await screen.findByText("1 change set: Ben Brook asked.");
    await user.selectOptions(screen.getByLabelText("Ask for a review"), "any keeper");
    await screen.findByText("1 change set: any keeper asked.");
    await user.click(screen.getByRole("button", { name: "Make ready" }));
    await screen.findByText("1 change set: ready.");
    expect(sent().map(([, body]) => body)).toEqual([
      { kind: "ask", invited: [{ person: "ben" }] },
      { kind: "ask", invited: [{ role: "keeper" }] },
      { kind: "ready" },
    ]);
  });

  it("can all be chosen, and none", async () => {
    const { choose, user } = page();
    await user.click(choose(1));
    await user.click(screen.getByRole("button", { name: "choose all shown" }));
    expect(screen.getByText("3 chosen")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "choose none" }));
    expect(screen.queryByText(/chosen/)).toBeNull();
  });
});
