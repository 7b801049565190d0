import { screen } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import type { LinkedItem } from "@/core/house/work/trailers";
import type { WorkItemView } from "@/core/views/keeping-view";
import { answerFor, type Name } from "../../testing/change";
import { FakeServer, refuses } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { WorkItems } from "./work-items";

const item = (of: string, title: string, more: Partial<WorkItemView> = {}): WorkItemView => ({
  ...{ item: of, title, body: "", state: "open", person: null, closedBy: null, changedAt: 0, address: null, ...more },
});
const TRACKER = [
  item("7", "Pilots confirm", { address: "https://work.example/7", person: "Ada Quist" }),
  item("8", "Hold a berth"),
  item("9", "Hold two", { state: "done" }),
];

function section(me: Name, workItems: LinkedItem[]) {
  const server = new FakeServer({
    "GET /api/repos/{repo}/work": ({ query }) =>
      TRACKER.filter((one) =>
        query.items === undefined ? one.title.includes(query.words) : query.items.split(",").includes(one.item),
      ),
  });
  const answer = answerFor(me);
  answer.around.workItems = workItems;
  return { ...showInWorkspace(answer, <WorkItems />), server };
}
const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>("button", { name });
const words = () => screen.getByRole<HTMLInputElement>("textbox");

it("says of each what it is, by what it is linked, and what merging does; a link alone is taken away again", async () => {
  const { user, command } = section("ada", [
    { item: "7", closes: true, from: "link" },
    { item: "9", closes: false, from: "commit" },
    { item: "70", closes: false, from: "description" },
  ]);
  await screen.findByText("Pilots confirm");
  expect(screen.getAllByRole("listitem").map(({ textContent }) => textContent)).toEqual([
    "#7Pilots confirmunlinkAda Quist’s · ends when this is merged",
    "#9Hold twoa reason, by a commit message",
    "#70is not in the trackera reason, by the description",
  ]);
  expect(screen.getByRole("link").getAttribute("href")).toBe("https://work.example/7");
  await user.click(button("Unlink work item 7"));
  expect(command).toHaveBeenCalledWith({ kind: "unlink", item: "7" });
});

it("links what is found, and by Enter the only one that fits, never one that fitted other words", async () => {
  const { user, command, server } = section("ada", []);
  await user.click(button(/Link a work item/));
  await user.type(words(), "Hold");
  await screen.findByText("Hold two");
  await user.keyboard("{Enter}");
  expect(command).not.toHaveBeenCalled();
  let answer = () => {};
  server.now({
    "GET /api/repos/{repo}/work": () =>
      new Promise<WorkItemView[]>((resolve) => {
        answer = () => resolve([TRACKER[1]]);
      }),
  });
  await user.type(words(), " a");
  await user.keyboard("{Enter}");
  expect(command).not.toHaveBeenCalled();
  answer();
  await vi.waitFor(() => expect(screen.queryByText("Hold two")).toBeNull());
  await user.click(screen.getByRole("checkbox"));
  await user.click(words());
  await user.keyboard("{Enter}");
  expect(command).toHaveBeenCalledWith({ kind: "link", item: "8", closes: false });
});

it("writes a new one where none fits, once, and links it; or says why not", async () => {
  const { user, command, server } = section("ada", []);
  await user.click(button(/Link a work item/));
  await user.type(words(), "Fog");
  let answer = (_: string) => {};
  server.now({ "POST /api/repos/{repo}/work": () => refuses("forbidden", "Only contributors write items.") });
  await user.click(await screen.findByRole("button", { name: "Write it as a new item" }));
  expect((await screen.findByRole("alert")).textContent).toBe("Only contributors write items.");
  server.now({
    "POST /api/repos/{repo}/work": () =>
      new Promise<string>((resolve) => {
        answer = resolve;
      }),
  });
  await vi.waitFor(() => expect(button("Write it as a new item").disabled).toBe(false));
  await user.click(button("Write it as a new item"));
  await user.click(button("Write it as a new item"));
  const written = server.of("POST /api/repos/{repo}/work").slice(1);
  expect(written.map(({ body }) => body)).toEqual([{ kind: "new", title: "Fog" }]);
  answer("12");
  await vi.waitFor(() => expect(command).toHaveBeenCalledWith({ kind: "link", item: "12", closes: true }));
});

it("says that the tracker is away, and is not there for who can link nothing where nothing is linked", async () => {
  const { server, again } = section("ben", []);
  expect(screen.queryByRole("region")).toBeNull();
  server.now({ "GET /api/repos/{repo}/work": () => refuses("unavailable", "The tracker cannot be reached.") });
  const answer = answerFor("ben");
  answer.around.workItems = [{ item: "7", closes: true, from: "link" }];
  again(answer);
  expect((await screen.findByRole("alert")).textContent).toBe("The tracker cannot be reached.");
  expect(screen.getByRole("listitem").textContent).toMatch(/#7cannot be asked for now/);
  expect(screen.queryByRole("button")).toBeNull();
});
