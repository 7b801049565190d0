import { cleanup, screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { ANCHOR, answerFor, type Happening } from "../../testing/change";
import { showInWorkspace } from "../../testing/in-workspace";
import { TakeSheet } from "./take-sheet";

afterEach(() => {
  cleanup();
  window.localStorage.clear();
});

const suggestion = (id: string, line: string) => ({ id, start: 4, end: 4, was: ANCHOR.text, lines: [line] });
const remarked = (n: number, by: "ben" | "cy", ...made: ReturnType<typeof suggestion>[]): Happening => {
  const words = { thread: `t${n}`, comment: `k${n}`, anchor: ANCHOR, body: "So?", suggestions: made };
  return [by, "reviewed", { revision: 1, verdict: "none", remark: "", remarks: [words] }];
};
const SUGGESTED = [
  remarked(1, "ben", suggestion("deeper", "  return depth + 1;"), suggestion("not", "  return 0;")),
  remarked(2, "cy", suggestion("least", "  return max(depth, 4);")),
];

function sheet(picked: string[]) {
  const mine = (ids: string[]) => answerFor("ada", SUGGESTED, { picked: ids, pickMessage: `Take ${ids.length}` });
  const onClose = vi.fn();
  const page = showInWorkspace(mine(picked), <TakeSheet open onClose={onClose} />);
  return { ...page, onClose, picks: (ids: string[]) => page.again(mine(ids)) };
}
const message = () => screen.getByRole<HTMLTextAreaElement>("textbox");
const taking = () => screen.getByRole<HTMLButtonElement>("button", { name: /^Tak/ });

it("shows what is picked, whose it is and what it makes, and takes just that with the message", async () => {
  const { user, command, tell, onClose } = sheet(["deeper", "least"]);
  const items = screen.getAllByRole("listitem").map(({ textContent }) => textContent);
  expect(items).toHaveLength(2);
  expect(items[0]).toMatch(/plan\/hold\.ts.*by Ben Oram.*return depth \+ 1;/s);
  expect(items[1]).toMatch(/by Cy Tull.*max\(depth, 4\)/s);
  expect(message().value).toBe("Take 2");
  await user.click(taking());
  expect(command).toHaveBeenCalledWith({ kind: "take", message: "Take 2" });
  expect(tell).toHaveBeenCalledWith("Took 2 suggestions: r2 is there.");
  expect(onClose).toHaveBeenCalled();
});

it("puts one back, and takes nothing where nothing is picked any more", async () => {
  const { user, command, pick, picks } = sheet(["least"]);
  await user.click(screen.getByRole("button", { name: "put it back" }));
  expect(pick).toHaveBeenCalledWith("t2", "least", false);
  picks([]);
  expect(screen.getByText("No suggestion is picked.")).toBeTruthy();
  expect(taking().disabled).toBe(true);
  await user.click(message());
  await user.keyboard("{Control>}{Enter}{/Control}");
  expect(command).not.toHaveBeenCalled();
});

it("proposes a message for what is picked until one is written, which stays until it was sent", async () => {
  const first = sheet(["deeper"]);
  first.picks(["deeper", "least"]);
  expect(message().value).toBe("Take 2");
  await first.user.clear(message());
  await first.user.type(message(), "Hold it deeper");
  first.picks(["deeper"]);
  expect(message().value).toBe("Hold it deeper");
  cleanup();
  const second = sheet(["deeper"]);
  expect(message().value).toBe("Hold it deeper");
  // Refused, nothing of it is lost, and the reason stands there.
  second.command.mockResolvedValueOnce("The branch has moved: look at it again.");
  await second.user.click(taking());
  expect(screen.getByRole("alert").textContent).toBe("The branch has moved: look at it again.");
  expect([second.onClose.mock.calls.length, message().value]).toEqual([0, "Hold it deeper"]);
  await second.user.click(taking());
  cleanup();
  sheet(["deeper"]);
  expect(message().value).toBe("Take 1");
});
