import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { expect, it } from "vitest";
import { FakeServer, refuses } from "../testing/fake-server";
import { Asking } from "../testing/in-workspace";
import { FeedOf } from "./feed-of";

const shown = (query: string) =>
  render(
    <Asking>
      <FeedOf query={query} address="https://lens.example" />
    </Asking>,
  );

it("makes an address with a token that is for feeds alone, when it is asked for", async () => {
  const server = new FakeServer({ "POST /api/tokens": () => ({ token: "lens-x", tokens: [] }) });
  shown("state:open author:ada");
  expect(server.of("POST /api/tokens")).toEqual([]);
  await userEvent.click(screen.getByRole("button", { name: /feed reader/ }));
  expect(
    await screen.findByText("https://lens.example/api/feed?q=state%3Aopen+author%3Aada&token=lens-x"),
  ).toBeTruthy();
  expect(server.of("POST /api/tokens").map(({ body }) => body)).toEqual([
    { label: "feed: state:open author:ada", scopes: ["feed"], days: null },
  ]);
});

it("says why there is none", async () => {
  new FakeServer({ "POST /api/tokens": () => refuses("conflict", "50 tokens are the most.") });
  shown("");
  await userEvent.click(screen.getByRole("button", { name: /feed reader/ }));
  expect((await screen.findByRole("alert")).textContent).toBe("50 tokens are the most.");
});
