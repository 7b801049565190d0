import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { FoundThing } from "@/core/views/desk-view";
import { MeShown } from "../frame/providers";
import { FakeServer, refuses } from "../testing/fake-server";
import { Asking } from "../testing/in-workspace";
import { GoAnywhere } from "./go-anywhere";
import { noteRecent } from "./recent-places";

const push = vi.fn();
vi.mock("next/navigation", () => ({ useRouter: () => ({ push }) }));

const thing = (kind: FoundThing["kind"], title: string, address: string): FoundThing => ({
  ...{ kind, title, where: "harbour", address },
});
const FOUND = [
  thing("change", "Hold a berth", "/r/harbour/c/3"),
  thing("thread", "Hold\u202e it?", "/r/harbour/c/3?thread=t"),
  thing("person", "Holda Example", "/people/holda"),
];

let server: FakeServer;
beforeEach(() => {
  server = new FakeServer({ "GET /api/find": ({ query }) => (query.words.startsWith("ho") ? FOUND : []) });
});
afterEach(() => {
  cleanup();
  push.mockClear();
  window.localStorage.clear();
});

function page(me: { administrator: boolean } | null = { administrator: false }) {
  render(
    <Asking>
      <MeShown value={me as never}>
        <GoAnywhere />
        <input aria-label="Elsewhere" />
      </MeShown>
    </Asking>,
  );
  return userEvent.setup();
}
const field = () => screen.getByRole<HTMLInputElement>("combobox");
const options = () => screen.queryAllByRole("option").map(({ textContent }) => textContent);

it("is opened by Ctrl K from anywhere, also out of a field, and goes to what is found by Enter", async () => {
  const user = page();
  await user.click(screen.getByRole("textbox", { name: "Elsewhere" }));
  await user.keyboard("{Control>}k{/Control}");
  await user.type(field(), "ho");
  await screen.findByText("Hold a berth");
  // Signs that nobody sees are shown.
  expect(options().slice(0, 3)).toEqual([
    expect.stringMatching(/^Hold a berth/),
    expect.stringMatching(/^Hold.*202e.* it\?/i),
    expect.stringMatching(/^Holda Example/),
  ]);
  await user.keyboard("{Enter}");
  expect(push).toHaveBeenCalledWith("/r/harbour/c/3");
  expect(screen.queryByRole("combobox")).toBeNull();
});

it("asks for nothing before there are two letters, and says when nothing fits or it cannot be asked", async () => {
  const user = page();
  await user.click(screen.getByRole("button", { name: /Go to/ }));
  await user.type(field(), "h");
  expect(screen.getByRole("status").textContent).toMatch(/By its number, its words/);
  expect(server.asked).toEqual([]);
  await user.type(field(), "xx");
  expect(await screen.findByText("Nothing that you may see has these words.")).toBeTruthy();
  server.now({ "GET /api/find": () => refuses("too-many", "That was often: wait a little.") });
  await user.type(field(), "y");
  expect(await screen.findByText("That was often: wait a little.")).toBeTruthy();
});

it("goes to where one was and to pages, those for administrators only where one is such", async () => {
  noteRecent("", { title: "harbour 9, Fog", address: "/r/harbour/c/9" });
  const user = page();
  await user.click(screen.getByRole("button", { name: /Go to/ }));
  expect(options()).toEqual(["harbour 9, Fog", "Desk", "All change sets, and lists", "Tokens and sessions"]);
  await user.click(screen.getByRole("option", { name: "harbour 9, Fog" }));
  expect(push).toHaveBeenCalledWith("/r/harbour/c/9");
  cleanup();
  page({ administrator: true });
  await user.click(screen.getByRole("button", { name: /Go to/ }));
  await user.type(field(), "keeping");
  expect(options()).toEqual(["Keeping: accounts, repositories, log"]);
});

it("is not there for nobody, nor over a dialog that is open", async () => {
  page(null);
  expect(screen.queryByRole("button")).toBeNull();
  cleanup();
  page();
  const dialog = document.createElement("div");
  dialog.setAttribute("role", "dialog");
  document.body.append(dialog);
  fireEvent.keyDown(window, { key: "k", ctrlKey: true });
  expect(screen.queryByRole("combobox")).toBeNull();
  dialog.remove();
});
