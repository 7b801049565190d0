import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { expect, it } from "vitest";
import type { CloneKeyView } from "@/core/views/access-view";
import { FakeServer, refuses } from "../testing/fake-server";
import { Asking } from "../testing/in-workspace";
import { CloneKeys } from "./clone-keys";

const laptop: CloneKeyView = { key: "ab".repeat(16), label: "laptop", addedAt: 1, usedAt: null, revokedAt: null };

function page(initial: CloneKeyView[] = []) {
  const server = new FakeServer({
    "POST /api/clone-keys": ({ body }) =>
      (body as { line: string }).line === "lens-key a b" ? [laptop] : refuses("invalid", "This line is not for you."),
    "DELETE /api/clone-keys/{key}": () => [{ ...laptop, revokedAt: 2 }],
  });
  render(
    <Asking>
      <CloneKeys initial={initial} name="rosa" serverKey="77f0" />
    </Asking>,
  );
  return { server, user: userEvent.setup() };
}

it("says what to run, takes the line, and keeps it where it is refused", async () => {
  const { user } = page();
  expect(screen.getByText("lens key rosa")).toBeTruthy();
  const mine = screen.getByRole("button", { name: "This is mine" });
  expect(mine).toHaveProperty("disabled", true);
  await user.type(screen.getByLabelText("The line of lens key"), "lens-key x");
  await user.type(screen.getByLabelText("Which clone it is"), "laptop");
  await user.click(mine);
  expect((await screen.findByRole("alert")).textContent).toBe("This line is not for you.");
  expect((screen.getByLabelText("The line of lens key") as HTMLInputElement).value).toBe("lens-key x");
  await user.clear(screen.getByLabelText("The line of lens key"));
  await user.type(screen.getByLabelText("The line of lens key"), "lens-key a b");
  await user.click(mine);
  expect(await screen.findByText("laptop")).toBeTruthy();
  expect(screen.getByText(/nothing handed in yet/)).toBeTruthy();
  expect((screen.getByLabelText("The line of lens key") as HTMLInputElement).value).toBe("");
});

it("asks once before it revokes, and says since when it is", async () => {
  const { user, server } = page([laptop]);
  await user.click(screen.getByRole("button", { name: "revoke …" }));
  expect(server.of("DELETE /api/clone-keys/{key}")).toEqual([]);
  await user.click(screen.getByRole("button", { name: "yes, revoke it for good" }));
  expect(await screen.findByText(/revoked/)).toBeTruthy();
  expect(screen.queryByRole("button", { name: /revoke/ })).toBeNull();
});
