import { act, render, screen, waitFor } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { expect, it } from "vitest";
import { ask } from "../asking/ask";
import { DraftOwner } from "../kept/use-draft";
import { FakeServer, refuses } from "../testing/fake-server";
import { Asking } from "../testing/in-workspace";
import { SignInAgain } from "./sign-in-again";

it("is asked over the page when the session has ended, and what was typed is still there", async () => {
  const server = new FakeServer({
    "POST /api/sign-out": () => refuses("unauthenticated", "Sign in first."),
    "POST /api/sign-in": ({ body }) =>
      (body as { password: string }).password === "right" ? { id: "p1" } : refuses("forbidden", "They do not match."),
  });
  const user = userEvent.setup();
  render(
    <DraftOwner value="p1">
      <Asking>
        <textarea aria-label="remark" defaultValue="half a sent" />
        <SignInAgain />
      </Asking>
    </DraftOwner>,
  );
  expect(screen.queryByRole("dialog")).toBeNull();
  await act(async () => void (await ask("POST /api/sign-out").catch(() => undefined)));
  expect(screen.getByRole("dialog").textContent).toContain("What you wrote is still here.");
  await user.type(screen.getByLabelText("Name"), "ada");
  await user.type(screen.getByLabelText("Password"), "wrong{Enter}");
  expect(screen.getByRole("alert").textContent).toBe("They do not match.");
  await user.clear(screen.getByLabelText("Password"));
  await user.type(screen.getByLabelText("Password"), "right{Enter}");
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect((screen.getByLabelText("remark") as HTMLTextAreaElement).value).toBe("half a sent");
  expect(server.of("POST /api/sign-in")).toHaveLength(2);
});

it("lets whoever types finish first: nothing of a sentence goes into the fields of the dialog", async () => {
  new FakeServer({ "POST /api/sign-out": () => refuses("unauthenticated", "Sign in first.") });
  const user = userEvent.setup();
  render(
    <DraftOwner value="p1">
      <Asking>
        <textarea aria-label="remark" />
        <SignInAgain />
      </Asking>
    </DraftOwner>,
  );
  await user.type(screen.getByLabelText("remark"), "half");
  await act(async () => void (await ask("POST /api/sign-out").catch(() => undefined)));
  await user.keyboard(" and the rest");
  expect(screen.queryByRole("dialog")).toBeNull();
  expect(await screen.findByRole("dialog", {}, { timeout: 10_000 })).toBeTruthy();
  expect((screen.getByLabelText("remark") as HTMLTextAreaElement).value).toBe("half and the rest");
});
