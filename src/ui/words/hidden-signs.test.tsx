import { fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { expect, it } from "vitest";
import { CodeField } from "./code-field";
import { HiddenSigns } from "./hidden-signs";

function Field({ began }: { began: string }) {
  const [text, setText] = useState(began);
  return (
    <>
      <textarea aria-label="Message" value={text} onChange={(event) => setText(event.target.value)} />
      <HiddenSigns text={text} onText={setText} />
    </>
  );
}
const message = () => screen.getByLabelText("Message") as HTMLTextAreaElement;

it("says what of a text does not show, and takes it out when asked", () => {
  render(<Field began={"Mend\u202e it\u200b for\u200b good\r\nby 5\u00a0pm ❤\ufe0f"} />);
  expect(screen.getByRole("status").textContent).toContain("3 signs above do not show: U+202E, U+200B (2 times).");
  fireEvent.click(screen.getByRole("button", { name: "take the signs out" }));
  expect(message().value.replaceAll("\r", "")).toBe("Mend it for good\nby 5\u00a0pm ❤\ufe0f");
  expect(screen.queryByRole("status")).toBeNull();
});

it("says nothing while all of it shows, and speaks up as it comes in", () => {
  render(<Field began="plain, привет, 漢字" />);
  expect(screen.queryByRole("status")).toBeNull();
  fireEvent.change(message(), { target: { value: "plain\u2066" } });
  expect(screen.getByRole("status").textContent).toContain("1 sign above does not show: U+2066.");
});

function Code({ began }: { began: string[] }) {
  const [lines, setLines] = useState(began);
  return <CodeField label="Code" lines={lines} onLines={setLines} onLeave={() => {}} />;
}

it("is stricter with code: what is usual in words is odd there, and a wide space becomes a plain one", () => {
  render(<Code began={["\tif\u00a0(user\u200d) {", "}"]} />);
  expect(screen.getByRole("status").textContent).toContain("2 signs above do not show: U+00A0, U+200D.");
  fireEvent.click(screen.getByRole("button", { name: "take the signs out" }));
  expect((screen.getByLabelText("Code") as HTMLTextAreaElement).value).toBe("\tif (user) {\n}");
});
