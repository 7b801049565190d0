import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { NeighbourRequest, NeighboursView, NeighbourView, StrangerView } from "@/core/views/neighbours-view";
import { FakeServer, refuses } from "../testing/fake-server";
import { NeighboursPage } from "./neighbours-page";

const KEY = "0".repeat(32);
const south: NeighbourView = {
  ...{ repository: "quay", name: "south", address: "https://south.example/git/quay.git", account: "for-north" },
  ...{ key: KEY, every: 5, askedAt: null, problem: "", isHeard: false },
};
const ben: StrangerView = { name: "ben-2", fullName: "Ben at south", joined: null };
const view = (neighbours: NeighbourView[], strangers: StrangerView[] = []): NeighboursView => {
  return { key: KEY, neighbours, strangers };
};

function page(initial: NeighboursView) {
  const server = new FakeServer({
    "POST /api/keeping/neighbours": ({ body }) => {
      const { name } = body as NeighbourRequest;
      if (name === "South") return refuses("invalid", "A neighbour is called by lower-case letters.");
      return view([{ ...south, name }]);
    },
    "POST /api/keeping/neighbours/{repo}/{name}/asks": () =>
      view([{ ...south, askedAt: Date.now(), problem: "It does not answer." }]),
    "DELETE /api/keeping/neighbours/{repo}/{name}": () => view([]),
    "POST /api/keeping/joined": () => view([south], [{ ...ben, joined: "ben" }]),
  });
  render(<NeighboursPage initial={initial} repositories={["mole", "quay"]} people={["ada", "ben"]} />);
  return { server, user: userEvent.setup() };
}

describe("other servers", () => {
  it("are added with what is wrong said, and what was typed kept until then", async () => {
    const { server, user } = page(view([]));
    await user.selectOptions(screen.getByLabelText("Repository here"), "quay");
    const name = screen.getByLabelText("What it is called here, such as south");
    await user.type(name, "South");
    await user.type(screen.getByLabelText("Address of the repository there"), south.address);
    await user.type(screen.getByLabelText(/What it signs with/), KEY);
    await user.type(screen.getByLabelText("A token of that account, which may fetch"), "lens-word");
    await user.click(screen.getByRole("button", { name: "Ask it" }));
    await screen.findByText("A neighbour is called by lower-case letters.");
    await user.clear(name);
    await user.type(name, "south");
    await user.click(screen.getByRole("button", { name: "Ask it" }));
    await screen.findByText("south is asked every 5 minutes.");
    expect(server.asked.at(-1)?.body).toMatchObject({
      repository: "quay",
      name: "south",
      key: KEY,
      secret: "lens-word",
    });
    // A token stays in no field once it was taken.
    expect(screen.getByLabelText<HTMLInputElement>("A token of that account, which may fetch").value).toBe("");
  });

  it("are asked at once, with what was wrong beside their name, and no more when that was said twice", async () => {
    const { user } = page(view([south]));
    expect(screen.getByText(/not asked yet/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Ask south now" }));
    await screen.findByText(/It does not answer/);
    await user.click(screen.getByRole("button", { name: "ask no more … south" }));
    await user.click(screen.getByRole("button", { name: "yes, ask it no more" }));
    await screen.findByText("No other server is asked yet.");
  });

  it("have people who are somebody here when that is said", async () => {
    const { server, user } = page(view([south], [ben]));
    await user.selectOptions(screen.getByLabelText("Who Ben at south is here"), "ben");
    await screen.findByText("ben-2 is shown as ben.");
    expect(server.asked[0].body).toEqual({ elsewhere: "ben-2", person: "ben" });
  });
});
