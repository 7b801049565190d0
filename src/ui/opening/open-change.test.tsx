import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { FakeServer, refuses } from "../testing/fake-server";
import { Asking } from "../testing/in-workspace";
import { OpenChange } from "./open-change";

const push = vi.fn();
vi.mock("next/navigation", () => ({ useRouter: () => ({ push }) }));

const branch = (name: string) => ({ name, subject: name, at: 0 });
const commit = (subject: string) => ({ id: subject.padEnd(40, "0"), subject, author: "Ada Quist", at: 0 });
const reviewer = (id: string, steward: string | null = null) => ({ id, name: id, fullName: `${id} Example`, steward });

let server: FakeServer;
beforeEach(() => {
  server = new FakeServer({
    "GET /api/repos/{repo}/preview": ({ query }) =>
      query.source === "old"
        ? refuses("conflict", "main has all of old already.")
        : ({
            commits: [commit("Newest"), commit(`First of ${query.source}`)],
            description: `Why ${query.source}`,
            reviewers: [reviewer("ben"), reviewer("cy", "tariff/")],
          } as never),
    "POST /api/repos/{repo}/changes": () => ({ number: 8 }),
  });
});
afterEach(() => {
  push.mockClear();
  window.localStorage.clear();
});

function page(branches = ["main", "hold", "old"], source = "hold") {
  const props = { repository: "harbour", branches: branches.map(branch), source, target: "main" };
  render(
    <Asking>
      <OpenChange {...props} />
    </Asking>,
  );
  return userEvent.setup();
}
const opened = () => server.of("POST /api/repos/{repo}/changes").map(({ body }) => body);
const field = (name: string | RegExp) => screen.getByRole<HTMLInputElement>("textbox", { name });
const choice = (name: string) => screen.getByRole<HTMLSelectElement>("combobox", { name });
const box = (name: RegExp) => screen.getByRole<HTMLInputElement>("checkbox", { name });
const deed = () => screen.getByRole<HTMLButtonElement>("button", { name: /^Open/ });

it("opens what the branch proposes, and asks the stewards of what changes", async () => {
  const user = page();
  expect(await screen.findByText("2 commits of hold")).toBeTruthy();
  expect([field("Title").value, field(/^Why/).value]).toEqual(["First of hold", "Why hold"]);
  // Whom the rule asks for anyway stands first, and is chosen.
  const people = screen.getAllByRole("listitem").slice(-2);
  expect(people.map(({ textContent }) => textContent)).toEqual(["cy Example · steward of tariff/", "ben Example"]);
  expect([box(/cy/).checked, box(/ben/).checked]).toEqual([true, false]);
  await user.click(deed());
  expect(opened()).toEqual([
    {
      ...{ source: "hold", target: "main", title: "First of hold", description: "Why hold" },
      ...{ draft: false, invited: ["cy"] },
    },
  ]);
  await vi.waitFor(() => expect(push).toHaveBeenCalledWith("/r/harbour/c/8"));
});

it("keeps what was written when another branch is chosen or it is refused, and lets go of it when it is open", async () => {
  const user = page();
  await screen.findByText("2 commits of hold");
  await user.clear(field("Title"));
  await user.type(field("Title"), "Hold it");
  await user.click(box(/ben/));
  await user.click(box(/cy/));
  await user.click(box(/as a draft/));
  await user.selectOptions(choice("Branch to offer"), "old");
  expect(await screen.findByText("main has all of old already.")).toBeTruthy();
  expect(deed().disabled).toBe(true);
  await user.selectOptions(choice("Branch to offer"), "hold");
  expect([field("Title").value, deed().textContent]).toEqual(["Hold it", "Open the draft"]);
  await vi.waitFor(() => expect(deed().disabled).toBe(false));
  server.now({ "POST /api/repos/{repo}/changes": () => refuses("conflict", "Change set 7 is already open for hold.") });
  await user.click(deed());
  expect((await screen.findByRole("alert")).textContent).toBe("Change set 7 is already open for hold.");
  expect([field("Title").value, push.mock.calls.length]).toEqual(["Hold it", 0]);
  expect(window.localStorage.length).toBe(1);
  server.now({ "POST /api/repos/{repo}/changes": () => ({ number: 9 }) });
  await user.click(deed());
  await vi.waitFor(() => expect(push).toHaveBeenCalledWith("/r/harbour/c/9"));
  expect(opened().at(-1)).toMatchObject({ title: "Hold it", draft: true, invited: ["ben"] });
  expect(window.localStorage.length).toBe(0);
});

it("offers nothing to itself, asks nothing before a branch is chosen, and says what to do where there is only one", async () => {
  const user = page(["main", "hold"], "");
  expect(deed().disabled).toBe(true);
  expect([...choice("Branch to offer").options].map(({ value }) => value)).toEqual(["", "hold"]);
  expect(server.asked).toEqual([]);
  await user.selectOptions(choice("Branch to offer"), "hold");
  expect(await screen.findByText("2 commits of hold")).toBeTruthy();
});

it("says how to push a branch where there is none to offer", () => {
  page(["main"]);
  expect(screen.getByText(/only one branch here, main/)).toBeTruthy();
  expect(screen.getByText(/git switch -c my-change/)).toBeTruthy();
  expect(screen.queryByRole("button")).toBeNull();
});
