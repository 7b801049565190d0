import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { Command } from "cmdk";
import { expect, it, vi } from "vitest";
import { CommandSheet } from "./command-sheet";

function sheet(items: readonly string[], settled: boolean, onSelect: (item: string) => void) {
  return (
    <CommandSheet title="Go to" look="" open onClose={() => {}} {...{ items, settled }}>
      <Command.Input />
      <Command.List>
        {items.map((item) => (
          <Command.Item key={item} value={item} onSelect={() => onSelect(item)}>
            {item}
          </Command.Item>
        ))}
      </Command.List>
    </CommandSheet>
  );
}

it("takes nothing from the list of the words before: Enter waits for its own", async () => {
  const user = userEvent.setup();
  const taken = vi.fn();
  const shown = render(sheet(["pier", "quay"], false, taken));
  await user.type(screen.getByRole("combobox"), "qu{Enter}");
  expect(taken).not.toHaveBeenCalled();
  shown.rerender(sheet(["quay"], true, taken));
  expect(taken.mock.calls).toEqual([["quay"]]);
});

it("forgets an Enter after which one typed on", async () => {
  const user = userEvent.setup();
  const taken = vi.fn();
  const shown = render(sheet(["pier"], false, taken));
  await user.type(screen.getByRole("combobox"), "q{Enter}u");
  shown.rerender(sheet(["quay"], true, taken));
  expect(taken).not.toHaveBeenCalled();
  await user.keyboard("{Enter}");
  expect(taken.mock.calls).toEqual([["quay"]]);
});
