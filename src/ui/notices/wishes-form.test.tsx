import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { expect, it } from "vitest";
import { USUAL_WISHES, type Wishes } from "@/core/doors/news/wishes";
import { FakeServer, refuses } from "../testing/fake-server";
import { WishesForm } from "./wishes-form";

function form(initial: Partial<Wishes> = {}) {
  const server = new FakeServer({ "PUT /api/notices/wishes": ({ body }) => body as Wishes });
  const people = [{ name: "ben", fullName: "Ben Oram" }];
  render(<WishesForm initial={{ ...USUAL_WISHES, ...initial }} people={people} repositories={["harbour", "quay"]} />);
  const kept = () => server.of("PUT /api/notices/wishes").map(({ body }) => body as Wishes);
  return { user: userEvent.setup(), server, kept };
}
const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>("button", { name });
const choice = (name: string | RegExp) => screen.getByRole<HTMLSelectElement>("combobox", { name });
const path = () => screen.getByRole<HTMLInputElement>("textbox", { name: /^Path or pattern/ });

it("keeps all of it at once, in the time zone of who says so", async () => {
  const { user, kept } = form({ paths: [{ repository: "quay", pattern: "*.sql" }] });
  await user.selectOptions(choice(/^When a revision comes/), "neither");
  await user.selectOptions(choice("A person’s change sets"), "ben");
  await user.click(button("Follow *.sql in quay no more"));
  await user.selectOptions(choice("A path in"), "quay");
  await user.type(path(), "tariff/**");
  await user.click(button("follow it"));
  expect(kept()).toEqual([]);
  await user.click(button("Keep this"));
  expect((await screen.findByRole("status")).textContent).toBe("Kept.");
  expect(kept()).toEqual([
    {
      ...{ ...USUAL_WISHES, ways: { ...USUAL_WISHES.ways, revisions: "neither" }, people: ["ben"] },
      ...{ paths: [{ repository: "quay", pattern: "tariff/**" }] },
      zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    },
  ]);
});

it("means what stands in the field when Enter is pressed there, and follows nothing twice", async () => {
  const { user, kept } = form();
  await user.type(path(), " tariff/** {Enter}");
  expect((await screen.findByRole("status")).textContent).toBe("Kept.");
  expect([kept().at(-1)?.paths, path().value]).toEqual([[{ repository: "harbour", pattern: "tariff/**" }], ""]);
  await user.type(path(), "tariff/**{Enter}");
  await user.selectOptions(choice("A path in"), "quay");
  await user.type(path(), "tariff/**{Enter}");
  expect(kept().map(({ paths }) => paths.length)).toEqual([1, 1, 2]);
});

it("has mail come each by itself, not in a quiet time, or once a day: one of them", async () => {
  const { user, kept } = form();
  const radio = (name: RegExp) => screen.getByRole("radio", { name });
  await user.click(radio(/not in a quiet time/));
  await user.click(button("Keep this"));
  await user.click(radio(/once a day/));
  await user.click(button("Keep this"));
  await user.click(radio(/at any time/));
  await user.click(button("Keep this"));
  expect(kept().map(({ quiet, digest }) => [quiet?.from ?? null, digest])).toEqual([
    ["19:00", null],
    [null, "08:00"],
    [null, null],
  ]);
});

it("calls nothing kept that was changed on its way, and says why something is not", async () => {
  const { user, server, kept } = form();
  let answer = () => {};
  server.now({
    "PUT /api/notices/wishes": ({ body }) =>
      new Promise<Wishes>((resolve) => {
        answer = () => resolve(body as Wishes);
      }),
  });
  await user.click(button("Keep this"));
  await user.selectOptions(choice(/^When it merges/), "page");
  answer();
  server.now({ "PUT /api/notices/wishes": () => refuses("invalid", "paths.0.pattern: That is no pattern.") });
  await user.type(path(), "***");
  expect([choice(/^When it merges/).value, screen.queryByText("Kept.")]).toEqual(["page", null]);
  await user.click(button("Keep this"));
  expect((await screen.findByRole("alert")).textContent).toBe("paths.0.pattern: That is no pattern.");
  expect(kept().at(-1)?.ways.settled).toBe("page");
});
