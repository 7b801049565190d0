import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Label } from "@/core/house/labels/labels";
import { FakeServer, refuses } from "../testing/fake-server";
import { LabelsPage } from "./labels-page";

const tides: Label = { name: "tides", flag: "pale", about: "Tables of tides", paths: ["tides/**"] };

function page(mayEdit: boolean) {
  const server = new FakeServer({
    "PUT /api/repos/{repo}/labels": ({ body }) => {
      const label = body as Label;
      return label.name === "no good" ? refuses("invalid", "The name of a label is made of small letters.") : [label];
    },
    "DELETE /api/repos/{repo}/labels/{name}": () => [],
  });
  render(<LabelsPage repository="quay" initial={[tides]} mayEdit={mayEdit} />);
  return { server, user: userEvent.setup() };
}

describe("the labels of a repository", () => {
  it("are shown with what gives them, and lead to what has them; only keepers change them", () => {
    page(false);
    expect(screen.getByRole("link", { name: "tides" }).getAttribute("href")).toBe("/lists?q=label%3Atides+in%3Aquay");
    expect(screen.getByText("tides/**")).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("are named anew; what is wrong is said, and what was typed stays", async () => {
    const { server, user } = page(true);
    await user.click(screen.getByRole("button", { name: "Another label …" }));
    const name = screen.getByLabelText("Name, such as tide-tables") as HTMLInputElement;
    await user.type(name, "No Good");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await screen.findByText("The name of a label is made of small letters.");
    expect(name.value).toBe("No Good");
    await user.clear(name);
    await user.type(name, "Tariff");
    await user.click(screen.getByRole("radio", { name: "cross" }));
    await user.type(screen.getByLabelText(/Paths that give it/), "tariff/**\n\n *.sql ");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await screen.findByText("tariff is kept.");
    expect(server.asked.at(-1)?.body).toEqual({
      ...{ name: "tariff", flag: "cross", about: "", paths: ["tariff/**", "*.sql"] },
    });
    expect(screen.getByRole("link", { name: "tariff" })).toBeTruthy();
  });

  it("are changed under their name, and go only when it was said twice", async () => {
    const { server, user } = page(true);
    await user.click(screen.getByRole("button", { name: "Change tides" }));
    expect(screen.queryByLabelText(/^Name/)).toBeNull();
    await user.click(screen.getByRole("button", { name: "cancel" }));
    await user.click(screen.getByRole("button", { name: "take away … tides" }));
    await user.click(screen.getByRole("button", { name: "no" }));
    expect(server.asked).toEqual([]);
    await user.click(screen.getByRole("button", { name: "take away … tides" }));
    await user.click(screen.getByRole("button", { name: "yes, from all change sets" }));
    await screen.findByText("There are none yet.");
    expect(server.asked[0].parts).toEqual({ repo: "quay", name: "tides" });
  });
});
