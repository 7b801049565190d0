import { cleanup, createEvent, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { followed } from "./followed";

const push = vi.fn();
beforeEach(() => push.mockClear());
afterEach(cleanup);

function Links() {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: what is clicked is a link in it
    // biome-ignore lint/a11y/noStaticElementInteractions: the same
    <div onClick={followed(push)}>
      <a href="/r/harbour/c/3?from=base#end">
        <span>Hold the plan</span>
      </a>
      <a href="https://elsewhere.example/r/harbour/c/3">Elsewhere</a>
      <a href="/r/harbour" target="_blank" rel="noreferrer">
        In a tab
      </a>
      <button type="button">No link</button>
    </div>
  );
}

/** Clicks on words, and says whether the browser is to do what it does. */
function click(words: string, how: MouseEventInit = {}): boolean {
  const event = createEvent.click(screen.getByText(words), { button: 0, ...how });
  // What it would do is not done here: there is one page.
  window.addEventListener("click", (now) => now.preventDefault(), { once: true });
  let isOurs = false;
  const look = (now: Event) => {
    isOurs = now.defaultPrevented;
  };
  document.body.addEventListener("click", look, { once: true });
  fireEvent(screen.getByText(words), event);
  return !isOurs;
}

it("goes where a link in it leads, whole, at a plain click on anything in the link", () => {
  render(<Links />);
  expect(click("Hold the plan")).toBe(false);
  expect(push.mock.calls).toEqual([["/r/harbour/c/3?from=base#end"]]);
});

it("leaves to the browser what leads elsewhere, asks for a tab of its own, or is no link", () => {
  render(<Links />);
  expect(click("Elsewhere")).toBe(true);
  expect(click("In a tab")).toBe(true);
  expect(click("No link")).toBe(true);
  for (const how of [{ ctrlKey: true }, { metaKey: true }, { shiftKey: true }, { altKey: true }, { button: 1 }])
    expect(click("Hold the plan", how)).toBe(true);
  expect(push).not.toHaveBeenCalled();
});
