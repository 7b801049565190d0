import { screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { answerFor, changeWith, type Happening } from "../../testing/change";
import { FakeServer } from "../../testing/fake-server";
import { showInWorkspace } from "../../testing/in-workspace";
import { EarlierWords, EditWords } from "./edit-words";

const said: Happening = ["cy", "described", { title: "Hold it", description: "Because of the tide." }];

function editing(...happenings: Happening[]) {
  const onDone = vi.fn();
  const page = showInWorkspace(answerFor("ada", happenings), <EditWords onDone={onDone} />);
  const title = screen.getByLabelText("Title") as HTMLInputElement;
  return { ...page, onDone, title };
}

describe("writing title and description", () => {
  it("begins in the title, at its end, and sends by Ctrl Enter what they were when it began", async () => {
    const { user, command, title, onDone } = editing();
    expect(document.activeElement).toBe(title);
    await user.keyboard(" longer");
    await user.type(screen.getByLabelText("Description, in Markdown"), "So.{Control>}{Enter}{/Control}");
    expect(command).toHaveBeenCalledWith({
      ...{ kind: "describe", title: "Hold a berth longer", description: "So." },
      was: { title: "Hold a berth", description: "" },
    });
    expect(onDone).toHaveBeenCalled();
    expect(window.localStorage.length).toBe(0);
  });

  it("is there again when the page was left, and shows what another wrote meanwhile before it takes its place", async () => {
    const first = editing();
    await first.user.keyboard(" longer");
    first.again(answerFor("ada", [said]));
    expect(first.title.value).toBe("Hold a berth longer");
    const alert = screen.getByRole("alert");
    expect(alert.textContent).toContain("Cy Tull has changed it since you began to write.");
    expect(alert.textContent).toContain("Because of the tide.");
    expect((screen.getByRole("button", { name: "Save" }) as HTMLButtonElement).disabled).toBe(true);
    await first.user.click(screen.getByRole("button", { name: "Mine takes its place" }));
    await first.user.click(screen.getByRole("button", { name: "Save" }));
    expect(first.command).toHaveBeenCalledWith(
      expect.objectContaining({
        title: "Hold a berth longer",
        was: { title: "Hold it", description: "Because of the tide." },
      }),
    );
  });

  it("stays with its words when it is refused, and can be brought back when it was dropped", async () => {
    const { user, command, title, tell, onDone } = editing();
    command.mockResolvedValueOnce("The server cannot be reached just now.");
    await user.keyboard(" longer");
    await user.click(screen.getByRole("button", { name: "Save" }));
    expect(screen.getByRole("alert").textContent).toMatch(/cannot be reached/);
    expect(title.value).toBe("Hold a berth longer");
    await user.click(screen.getByRole("button", { name: "cancel" }));
    expect(onDone).toHaveBeenCalled();
    expect(window.localStorage.length).toBe(0);
    tell.mock.calls[0][1]?.();
    expect(window.localStorage.length).toBe(1);
  });
});

it("shows what they said before, and who changed it", async () => {
  const happenings: Happening[] = [said, ["ada", "described", { title: "Hold", description: "" }]];
  new FakeServer({ "GET /api/repos/{repo}/changes/{number}/wordings": () => changeWith(happenings).wordings });
  const { user } = showInWorkspace(answerFor("ada", happenings), <EarlierWords />);
  await user.click(screen.getByRole("button", { name: "it said something else before" }));
  const items = (await screen.findAllByRole("listitem")).map(({ textContent }) => textContent);
  expect(items).toHaveLength(2);
  expect(items[0]).toContain("Changed by Cy Tull");
  expect(items[1]).toContain("Changed by you");
  expect(items[1]).toContain("Because of the tide.");
});
