import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";
import { compareFiles } from "@/core/diff/compare";
import { Prose } from "./prose";

const bytes = (text: string) => new TextEncoder().encode(text);

it("draws both states of what changed, whatever is written in it, and leads to the lines", async () => {
  const [old, next] = [
    "# Tides\n\nHigh at noon.\n",
    "# Tides\n\nHigh at *night* <img src=x onerror=alert(1)>\n\n<script>a()</script>\n",
  ];
  const { hunks } = compareFiles(bytes(old), bytes(next));
  const [was, is] = [old, next].map((text) => text.slice(0, -1).split("\n"));
  const onGo = vi.fn();
  const { container } = render(<Prose old={was} next={is} hunks={hunks} onGo={onGo} path="a.md" />);
  expect(screen.getByRole("heading", { name: "Tides" })).toBeTruthy();
  expect(screen.getByLabelText("as it was").textContent).toContain("High at noon.");
  expect(container.querySelector("em")?.textContent).toBe("night");
  // Text is text: nothing of it runs or is loaded.
  expect(container.querySelector("script, img")).toBeNull();
  await userEvent.click(screen.getAllByText("to line 3")[0]);
  expect(onGo).toHaveBeenCalledWith("old", 3);
});

it("says that a comment is not drawn, where one was put around what was", () => {
  const [was, is] = ["Ask two.\n\nGo.", "<!--\n\nAsk two.\n\n-->\n\nGo."].map((text) => text.split("\n"));
  const { hunks } = compareFiles(bytes(was.join("\n")), bytes(is.join("\n")));
  render(<Prose old={was} next={is} hunks={hunks} onGo={vi.fn()} path="a.md" />);
  expect(screen.getByLabelText("as it was").textContent).toContain("Ask two.");
  expect(screen.getByLabelText("as it is now").textContent).toContain("A comment: not drawn.");
  expect(screen.getByText("Go.")).toBeTruthy();
});

it("draws links that say elsewhere where they lead, and says so where another place is led to", () => {
  const text = (to: string, words: string) =>
    `See the [tides][] of [![x][badge]][Harbour].\n\n${words}\n\n[tides]: ${to}\n[harbour]: /h`;
  const [was, is] = [text("/calm", "Ask [tides]."), text("/storm", "Do ask [tides].")].map((all) => all.split("\n"));
  const { hunks } = compareFiles(bytes(was.join("\n")), bytes(is.join("\n")));
  const { container } = render(<Prose old={was} next={is} hunks={hunks} onGo={vi.fn()} path="a.md" />);
  const leads = (part: Element) => [...part.querySelectorAll("a")].map((link) => link.getAttribute("href"));
  // What did not change is drawn as it is now, and what did as it was and is.
  expect([...container.querySelectorAll("section")].map(leads)).toEqual([
    ...[["/storm", "/h"], ["/calm"], ["/storm"], [], []],
  ]);
  expect(screen.getAllByLabelText("as it is now")[1].textContent).toContain("Links to tides lead to /storm");
  expect(screen.getAllByLabelText("as it was")[1].textContent).toContain("Links to tides lead to /calm");
});
