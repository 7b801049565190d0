import { screen } from "@testing-library/react";
import { beforeEach, expect, it } from "vitest";
import { answerFor } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { Retarget } from "./retarget";

const name = (kind: "branch" | "tag", of: string) => ({ kind, name: of });
let server: FakeServer;
beforeEach(() => {
  const names = [name("branch", "main"), name("branch", "release"), name("tag", "v1")];
  server = new FakeServer({
    "GET /api/repos/{repo}/changes/{number}/yardstick": () => ({ names, name: null, files: [] }),
  });
});
const opener = () => screen.getByRole("button", { name: /offer it to another branch/ });
const send = () => screen.getByRole<HTMLButtonElement>("button", { name: "Offer it there" });

it("asks for branches when it is wanted, and offers it to another one, once", async () => {
  const { user, command, tell } = showInWorkspace(answerFor("ada"), <Retarget />);
  expect(server.asked).toEqual([]);
  await user.click(opener());
  const select = screen.getByRole<HTMLSelectElement>("combobox");
  await screen.findByRole("option", { name: "release" });
  // It is offered to main already, and a tag is nothing to merge into.
  expect([...select.options].map(({ text }) => text)).toEqual(["choose one", "release"]);
  expect(send().disabled).toBe(true);
  await user.selectOptions(select, "release");
  let answer = (_: string | null) => {};
  command.mockImplementationOnce(
    () =>
      new Promise((resolve) => {
        answer = resolve;
      }),
  );
  await user.click(send());
  await user.click(send());
  expect(command.mock.calls).toEqual([[{ kind: "retarget", target: "release" }]]);
  answer(null);
  expect(await screen.findByRole("button", { name: /offer it to another branch/ })).toBeTruthy();
  expect(tell).toHaveBeenCalledWith("It is offered to release now, by the rules of that branch.");
});

it("stays open with the reason where it is refused, and can be left", async () => {
  const { user, command } = showInWorkspace(answerFor("ada"), <Retarget />);
  command.mockResolvedValue("hold has nothing that release has not.");
  await user.click(opener());
  await user.selectOptions(await screen.findByRole("combobox"), await screen.findByRole("option", { name: "release" }));
  await user.click(send());
  expect((await screen.findByRole("alert")).textContent).toBe("hold has nothing that release has not.");
  expect(send().disabled).toBe(false);
  await user.click(screen.getByRole("button", { name: "leave it" }));
  expect(opener()).toBeTruthy();
});

it("is not there for who may not", () => {
  showInWorkspace(answerFor("ben"), <Retarget />);
  expect(screen.queryByRole("button")).toBeNull();
});
