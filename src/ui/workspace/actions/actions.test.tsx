import { fireEvent, render, screen } from "@testing-library/react";
import { useLayoutEffect } from "react";
import { describe, expect, it, vi } from "vitest";
import { ACTION_IDS, ACTIONS, BY_KEY, keyLabel, keyOf, SUBJECTS } from "./actions";
import { Actions, type Handlers, type Registry, useActions, useRegistry } from "./use-actions";

let registry: Registry;
function Part(handlers: Handlers) {
  useActions(handlers);
  registry = useRegistry();
  return null;
}
/** Somebody who presses as soon as there is a picture. */
function Quick({ run }: { run: () => void }) {
  useLayoutEffect(() => {
    window.dispatchEvent(new KeyboardEvent("keydown", { key: "b", cancelable: true }));
  }, []);
  return (
    <Actions>
      <Part brief={run} />
    </Actions>
  );
}
const press = (key: string, more: object = {}, on: Element | Window = window) =>
  fireEvent.keyDown(on, { key, bubbles: true, cancelable: true, ...more });

describe("the table of actions", () => {
  it("gives no key to two of them, and words to each", () => {
    const keys = ACTION_IDS.flatMap((id) => ACTIONS[id].keys);
    expect(new Set(keys).size).toBe(keys.length);
    expect(BY_KEY.size).toBe(keys.length);
    const labels = ACTION_IDS.map((id) => ACTIONS[id].label);
    expect(new Set(labels).size).toBe(labels.length);
    for (const id of ACTION_IDS) expect(SUBJECTS).toContain(ACTIONS[id].subject);
  });

  it("names a pressed key as its table does, on any keyboard", () => {
    const named = (key: string, more = {}) => keyOf({ key, ctrlKey: false, shiftKey: false, ...more });
    expect(named("d")).toBe("d");
    expect(named("D", { shiftKey: true })).toBe("shift d");
    // With caps lock on, without Shift.
    expect(named("D")).toBe("d");
    expect(named("ArrowDown", { shiftKey: true })).toBe("shift arrowdown");
    // A sign that needs Shift on some keyboards and not on others is the same sign.
    expect(named("?", { shiftKey: true })).toBe("?");
    expect(named("?")).toBe("?");
    expect(named("/", { shiftKey: true })).toBe("/");
    expect(named("k", { ctrlKey: true })).toBe("ctrl k");
    expect(keyLabel("shift arrowdown")).toBe("Shift ↓");
    expect(keyLabel("ctrl k")).toBe("Ctrl K");
  });
});

describe("actions", () => {
  it("need Alt for single keys where somebody chose so, whatever sign the keyboard writes then", () => {
    const [difference, whole, go] = [vi.fn(), vi.fn(), vi.fn()];
    window.localStorage.setItem("lens.lone keys", "alt");
    try {
      render(
        <Actions>
          <Part next-difference={difference} whole-file={whole} go-to={go} />
        </Actions>,
      );
      press("d");
      press("O", { shiftKey: true });
      expect([difference, whole].map(({ mock }) => mock.calls.length)).toEqual([0, 0]);
      press("∂", { altKey: true, code: "KeyD" });
      press("O", { shiftKey: true, altKey: true, code: "KeyO" });
      press("k", { ctrlKey: true });
      press("k", { ctrlKey: true, altKey: true, code: "KeyK" });
      expect([difference, whole, go].map(({ mock }) => mock.calls.length)).toEqual([1, 1, 1]);
    } finally {
      window.localStorage.removeItem("lens.lone keys");
    }
  });

  it("are done by their key, by who came last, and not when they cannot be done now", () => {
    const [below, above] = [vi.fn(), vi.fn()];
    const shown = (second: Handlers | null) => (
      <Actions>
        <Part next-difference={below} send={below} merge={null} />
        {second && <Part {...second} />}
      </Actions>
    );
    const { rerender } = render(shown(null));
    press("d");
    expect(below).toHaveBeenCalledTimes(1);
    rerender(shown({ "next-difference": above, send: null }));
    press("d");
    press("s");
    expect([below.mock.calls.length, above.mock.calls.length]).toEqual([1, 1]);
    expect(registry.available()).toEqual(["next-difference"]);
    // What is left out is left to who was there before.
    rerender(shown({ send: undefined }));
    press("s");
    press("d");
    expect(below).toHaveBeenCalledTimes(3);
    rerender(shown(null));
    expect(registry.handlerOf("merge")).toBeNull();
  });

  it("use what was said last, without listening anew", () => {
    const calls: number[] = [];
    const { rerender } = render(<Part_ run={() => calls.push(1)} />, { wrapper: Actions });
    rerender(<Part_ run={() => calls.push(2)} />);
    press("b");
    expect(calls).toEqual([2]);
  });

  it("are not done while something is typed, over a dialog, or with a key that is the browser’s", () => {
    const run = vi.fn();
    render(
      <Actions>
        <Part brief={run} />
        <input aria-label="name" />
        <textarea aria-label="remark" />
        <select aria-label="choice" />
        <p contentEditable suppressContentEditableWarning data-testid="rich" />
        <button type="button">press</button>
      </Actions>,
    );
    for (const name of ["name", "remark", "choice"]) press("b", {}, screen.getByLabelText(name));
    press("b", { altKey: true });
    press("b", { metaKey: true });
    press("b", { ctrlKey: true });
    expect(run).not.toHaveBeenCalled();
    press("b", {}, screen.getByRole("button"));
    expect(run).toHaveBeenCalledTimes(1);
    const dialog = document.createElement("div");
    dialog.setAttribute("role", "dialog");
    document.body.append(dialog);
    press("b");
    expect(run).toHaveBeenCalledTimes(1);
    dialog.remove();
  });

  it("are there with the picture, also for who presses at once", () => {
    const run = vi.fn();
    render(<Quick run={run} />);
    expect(run).toHaveBeenCalledTimes(1);
  });

  it("belong to a page that has some", () => {
    vi.spyOn(console, "error").mockImplementation(() => {});
    expect(() => render(<Part />)).toThrow(/page that has some/);
    vi.restoreAllMocks();
  });
});

function Part_({ run }: { run: () => void }) {
  useActions({ brief: run });
  return null;
}
