import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen, within } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { GroupRequest, GroupView } from "@/core/views/setting-up-view";
import { FakeServer, refuses } from "../testing/fake-server";
import { Backups } from "./backups";
import { Groups } from "./groups";
import { MachineToken } from "./machine-token";

const crew: GroupView = { name: "crew", members: ["ada"], roles: [{ repository: "quay", role: "reader" }] };

describe("groups", () => {
  function page() {
    const server = new FakeServer({
      "PUT /api/keeping/groups": ({ body }) => {
        const { name, members, roles } = body as GroupRequest;
        if (name === "X") return refuses("invalid", "The name of a group is made of small letters.");
        return [{ name, members, roles: Object.entries(roles).map(([repository, role]) => ({ repository, role })) }];
      },
      "DELETE /api/keeping/groups/{name}": () => [],
    });
    render(<Groups initial={[crew]} people={["ada", "ben"]} repositories={["mole", "quay"]} />);
    return { server, user: userEvent.setup() };
  }

  it("are told with who is in them and what that lets them do, and are changed", async () => {
    const { server, user } = page();
    expect(screen.getByText("ada · reader in quay")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Change crew" }));
    await user.click(screen.getByRole("checkbox", { name: "ben" }));
    await user.selectOptions(screen.getByLabelText("mole"), "keeper");
    await user.selectOptions(screen.getByLabelText("quay"), "");
    await user.click(screen.getByRole("button", { name: "Keep" }));
    await screen.findByText("ada, ben · keeper in mole");
    expect(server.asked[0].body).toEqual({ name: "crew", members: ["ada", "ben"], roles: { mole: "keeper" } });
  });

  it("are made, with what is wrong said, and go when it was said twice", async () => {
    const { user } = page();
    await user.click(screen.getByRole("button", { name: "Another group …" }));
    const name = screen.getByLabelText("Name, such as night-watch");
    await user.type(name, "X{Enter}");
    await screen.findByText("The name of a group is made of small letters.");
    await user.clear(name);
    await user.type(name, "watch{Enter}");
    await screen.findByText("watch is kept.");
    await user.click(screen.getByRole("button", { name: "take away … watch" }));
    expect(screen.getByText(/no people may do less then/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "yes, take it away" }));
    await screen.findByText("There are none yet.");
  });
});

it("shows a token of a machine once, and tells the page of it", async () => {
  const server = new FakeServer({
    "POST /api/keeping/people/{name}/tokens": () => ({ token: "lens-secret", people: [] }),
  });
  const user = userEvent.setup();
  let told = 0;
  render(<MachineToken name="gauge" onMade={() => told++} />);
  await user.type(screen.getByLabelText(/what it is for/), "build");
  await user.selectOptions(screen.getByLabelText("It may"), "git");
  await user.click(screen.getByRole("button", { name: "Make it" }));
  expect((await screen.findByTestId("machine-token")).textContent).toBe("lens-secret");
  expect([told, server.asked[0].body]).toEqual([1, { label: "build", scopes: ["git"] }]);
});

it("makes a backup, tells how far it is, and lists those that are there", async () => {
  const one = { name: "2026-11-26", madeAt: 1, repositories: 2, size: 5 * 1024 ** 2 };
  const none = { folder: "/srv/lens/backups", making: null, problem: "", backups: [] };
  const server = new FakeServer({
    "GET /api/keeping/backups": () => none,
    "POST /api/keeping/backups": () => ({ ...none, making: "quay …" }),
    "DELETE /api/keeping/backups/{name}": () => none,
  });
  const user = userEvent.setup();
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Backups />
    </QueryClientProvider>,
  );
  await user.click(await screen.findByRole("button", { name: "Make one now" }));
  await screen.findByText("quay …");
  server.now({ "GET /api/keeping/backups": () => ({ ...none, backups: [one] }) });
  const row = await screen.findByRole("listitem", {}, { timeout: 5_000 });
  expect(within(row).getByText(/2 repositories, 5 MB/)).toBeTruthy();
  await user.click(within(row).getByRole("button", { name: "take away … 2026-11-26" }));
  await user.click(within(row).getByRole("button", { name: "yes, for good" }));
  await screen.findByText("The backup is taken away.");
  expect(screen.queryByRole("listitem")).toBeNull();
});
