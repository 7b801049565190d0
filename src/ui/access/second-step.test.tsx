import { render, screen, within } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { FakeServer, refuses } from "../testing/fake-server";
import { SecondStep } from "./second-step";
import { SignIn } from "./sign-in";

const OFF = { onSince: null, wordsLeft: 0 };
const WORDS = ["abc-def-ghj-kmn", "pqr-stu-vwx-yz2"];

describe("a second step", () => {
  it("is switched on by showing what the device shows, and its words are told once", async () => {
    const server = new FakeServer({
      "POST /api/second-step": () => ({ secret: "ABCDEFGH", address: "otpauth://totp/x", picture: "<svg/>" }),
      "PUT /api/second-step": ({ body }) =>
        (body as { code: string }).code === "123456" ? { words: WORDS } : refuses("invalid", "Not what it shows."),
      "GET /api/second-step": () => ({ onSince: 1, wordsLeft: 2 }),
      "POST /api/second-step/end": () => null,
    });
    const user = userEvent.setup();
    render(<SecondStep initial={OFF} />);
    await user.click(screen.getByRole("button", { name: "Switch it on …" }));
    expect((await screen.findByTestId("secret")).textContent).toBe("ABCD EFGH");
    const field = screen.getByLabelText("What your device shows now") as HTMLInputElement;
    await user.type(field, "111111");
    await user.click(screen.getByRole("button", { name: "Switch it on" }));
    await screen.findByText("Not what it shows.");
    await user.clear(field);
    await user.type(field, "123456{Enter}");
    const words = within(await screen.findByTestId("words")).getAllByRole("listitem");
    expect(words.map((one) => one.textContent)).toEqual(WORDS);
    expect(screen.getByText(/2 words left/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Switch it off …" }));
    await user.type(screen.getByLabelText("What your device shows now"), "654321{Enter}");
    await screen.findByText("It is off. Your password alone is asked for.");
    expect(server.of("POST /api/second-step/end")[0].body).toEqual({ code: "654321" });
    expect(screen.queryByTestId("words")).toBeNull();
  });
});

describe("signing in", () => {
  const props = { next: "/notices", demo: [], provider: null, passwords: true, why: "" };

  it("asks for the second step where there is one, and begins anew when the name becomes another", async () => {
    const assign = vi.spyOn(window.location, "assign").mockImplementation(() => {});
    const server = new FakeServer({
      "POST /api/sign-in": ({ body }) => ({ id: (body as { code?: string }).code ? "ada" : null }),
    });
    const user = userEvent.setup();
    render(<SignIn {...props} />);
    await user.type(screen.getByLabelText("Name"), "ada");
    await user.type(screen.getByLabelText("Password"), "long enough{Enter}");
    await user.type(await screen.findByLabelText(/The number that your device shows/), "1");
    await user.type(screen.getByLabelText("Name"), "x");
    expect(screen.queryByLabelText(/The number/)).toBeNull();
    await user.type(screen.getByLabelText("Name"), "{Backspace}{Enter}");
    await user.type(await screen.findByLabelText(/The number/), "123456{Enter}");
    await vi.waitFor(() => expect(assign).toHaveBeenCalledWith("/notices"));
    expect(server.asked.map(({ body }) => body)).toEqual([
      { name: "ada", password: "long enough" },
      { name: "ada", password: "long enough" },
      { name: "ada", password: "long enough", code: "123456" },
    ]);
  });

  it("leads to the provider, alone where passwords are switched off, and says why somebody is not in", () => {
    render(<SignIn {...props} provider="the harbour" passwords={false} why="You are known there." />);
    const link = screen.getByRole("link", { name: "Sign in with the harbour" });
    expect(link.getAttribute("href")).toBe("/api/sign-in/provider?next=%2Fnotices");
    expect(screen.queryByLabelText("Password")).toBeNull();
    expect(screen.getByRole("alert").textContent).toBe("You are known there.");
  });
});
