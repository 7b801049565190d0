import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import { WhenOpened } from "./when-opened";

afterEach(cleanup);

function Field() {
  return <input aria-label="Words" />;
}

it("is made when it is opened first, and keeps what was written into it", () => {
  const shown = (open: boolean) => (
    <WhenOpened open={open}>
      <Field />
    </WhenOpened>
  );
  const { rerender } = render(shown(false));
  expect(screen.queryByLabelText("Words")).toBeNull();
  rerender(shown(true));
  fireEvent.change(screen.getByLabelText("Words"), { target: { value: "Half a sent" } });
  rerender(shown(false));
  rerender(shown(true));
  expect(screen.getByLabelText<HTMLInputElement>("Words").value).toBe("Half a sent");
});
