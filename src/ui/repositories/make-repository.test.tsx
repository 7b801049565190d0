import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { FakeServer, refuses } from "../testing/fake-server";
import { MakeRepository } from "./make-repository";

const push = vi.fn();
vi.mock("next/navigation", () => ({ useRouter: () => ({ push }) }));

it("asks for a name that begins as it has to, keeps what was typed at a refusal, and goes to what was made", async () => {
  const server = new FakeServer({
    "POST /api/repos": ({ body }) => {
      const { name } = body as { name: string };
      return name === "harbour-quay" ? refuses("conflict", "There is a repository of that name already.") : { name };
    },
  });
  const user = userEvent.setup();
  render(<MakeRepository names="harbour-*" />);
  await user.click(screen.getByRole("button", { name: "make another…" }));
  const field = screen.getByRole("textbox", { name: "Name" });
  expect(field).toHaveProperty("value", "harbour-");
  expect(document.activeElement).toBe(field);
  await user.type(field, "quay{Enter}");
  expect((await screen.findByRole("alert")).textContent).toContain("already");
  expect(field).toHaveProperty("value", "harbour-quay");
  expect(push).not.toHaveBeenCalled();
  await user.type(field, "-2{Enter}");
  await vi.waitFor(() => expect(push).toHaveBeenCalledWith("/r/harbour-quay-2"));
  expect(server.of("POST /api/repos")).toHaveLength(2);
});
