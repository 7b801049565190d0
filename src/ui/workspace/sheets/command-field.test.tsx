import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { useState } from "react";
import { expect, it, vi } from "vitest";
import type { FoundThing } from "@/core/views/desk-view";
import { answerFor, file } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { type Handlers, useActions } from "../actions/use-actions";
import { CommandField } from "./command-field";
import { KeysSheet } from "./keys-sheet";

function Can(handlers: Handlers) {
  useActions(handlers);
  return null;
}

function field(
  handlers: Handlers = {},
  tree: string[] = [],
  here: ReturnType<typeof file> | null = null,
  elsewhere: FoundThing[] = [],
) {
  new FakeServer({
    "GET /api/repos/{repo}/tree": () => tree.map((path) => ({ path, id: "x", mode: 33188 })),
    "GET /api/repos/{repo}/definitions": () => [
      { name: "Tides", kind: "type", within: [], line: 2, start: 2, end: 20 },
      { name: "tideAt", kind: "function", within: ["Tides"], line: 7, start: 7, end: 12 },
      { name: "hold", kind: "function", within: [], line: 22, start: 22, end: 30 },
    ],
    "GET /api/find": () => elsewhere,
  });
  const onLine = vi.fn();
  const onFile = vi.fn();
  const onClose = vi.fn();
  const shown = showInWorkspace(
    answerFor("ben"),
    <>
      <Can {...handlers} />
      <CommandField
        open
        files={["src/tide/table.ts", "docs/tides.md", "src/quay.ts"].map((path) => file(path))}
        repository="harbour"
        commit="head"
        here={here}
        onLine={onLine}
        onFile={onFile}
        onClose={onClose}
      />
    </>,
  );
  const options = () => screen.getAllByRole("option").map((option) => option.textContent);
  return { ...shown, onLine, onFile, onClose, options, input: screen.getByPlaceholderText(/Go to a file/) };
}

it("lists what can be done now, with its keys, and does it", async () => {
  const run = vi.fn();
  const { user, input, onClose } = field({ brief: run, merge: null });
  await user.type(input, "brief");
  const option = await screen.findByRole("option", { name: /Read the brief/ });
  expect(within(option).getByText("B")).toBeTruthy();
  expect(screen.queryByRole("option", { name: /Merge it/ })).toBeNull();
  await user.keyboard("{Enter}");
  expect(run).toHaveBeenCalledTimes(1);
  expect(onClose).toHaveBeenCalledTimes(1);
});

it("finds files by their name first, then by their path, then by letters in order", async () => {
  const { user, input, options, onFile } = field();
  await user.type(input, "tid");
  await waitFor(() => expect(options()).toEqual(["docs/tides.md", "src/tide/table.ts"]));
  await user.clear(input);
  await user.type(input, "sq");
  await waitFor(() => expect(options()).toEqual(["src/quay.ts"]));
  await user.keyboard("{Enter}");
  expect(onFile).toHaveBeenCalledWith("src/quay.ts", true);
});

it("finds files that did not change, and says that they did not", async () => {
  const { user, input, onFile } = field({}, ["src/quay.ts", "src/other.ts"]);
  await user.type(input, "other");
  const option = await screen.findByRole("option", { name: "src/other.ts" });
  expect(screen.getByText("Files that did not change")).toBeTruthy();
  await user.click(option);
  expect(onFile).toHaveBeenCalledWith("src/other.ts", false);
});

it("writes out what does not show in a path, and names a file of this change set once", async () => {
  const offered = (number: number): FoundThing => ({
    ...{ kind: "file", title: "src/quay.ts", where: `in harbour ${number}`, address: `/r/harbour/c/${number}?file=x` },
  });
  const { user, input, options } = field({}, ["src/quay\u202est.ts"], null, [offered(3), offered(8)]);
  await user.type(input, "quay");
  await waitFor(() =>
    expect(options()).toEqual(["src/quay.ts", "src/quay⟨U+202E⟩st.ts", expect.stringContaining("in harbour 8")]),
  );
});

/** A field that is closed at first. */
function Opened({ brief, onFile, onClose }: Record<"brief" | "onFile" | "onClose", () => void>) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Can {...{ brief }} />
      <button type="button" onClick={() => setOpen(true)}>
        open it
      </button>
      <CommandField
        {...{ open, onFile, onClose }}
        files={[file("src/quay.ts")]}
        repository="harbour"
        commit="head"
        here={null}
        onLine={() => {}}
      />
    </>
  );
}

it("is there to be typed into before what it lists, and takes Enter that comes before that", async () => {
  new FakeServer({ "GET /api/repos/{repo}/tree": () => [], "GET /api/find": () => [] });
  const [brief, onFile, onClose] = [vi.fn(), vi.fn(), vi.fn()];
  showInWorkspace(answerFor("ben"), <Opened {...{ brief, onFile, onClose }} />);
  fireEvent.click(screen.getByText("open it"));
  const input = screen.getByPlaceholderText(/Go to a file/);
  // Nothing is said to be missing that was not looked for yet.
  expect(screen.queryByRole("option")).toBeNull();
  expect(screen.queryByText(/No file, no name/)).toBeNull();
  fireEvent.change(input, { target: { value: "quay" } });
  fireEvent.keyDown(input, { key: "Enter" });
  await waitFor(() => expect(onFile).toHaveBeenCalledWith("src/quay.ts", true));
  expect(onClose).toHaveBeenCalledTimes(1);
  expect(brief).not.toHaveBeenCalled();
});

it("says when nothing fits", async () => {
  const { user, input } = field();
  await user.type(input, "zzzz");
  expect(await screen.findByText(/No file, no name in this one and nothing to do/)).toBeTruthy();
});

it("has a sheet on which every key is found under what it is for", () => {
  showInWorkspace(answerFor("ben"), <KeysSheet open onClose={() => {}} />);
  const talk = within(screen.getByRole("region", { name: "Remarks and threads" }));
  expect(talk.getByText("reply in the thread")).toBeTruthy();
  expect(talk.getByText("Shift W")).toBeTruthy();
  // What has no key is not on it.
  expect(screen.queryByText("merge it")).toBeNull();
});

it("goes to what the open file defines, by a part of its name", async () => {
  const { user, input, onLine } = field({}, [], file("src/tide/table.ts"));
  await user.type(input, "tideat");
  const option = await screen.findByRole("option", { name: /tideAt/ });
  expect(option.textContent).toContain("function in Tides");
  await user.keyboard("{Enter}");
  expect(onLine).toHaveBeenCalledWith("src/tide/table.ts", 7);
});
