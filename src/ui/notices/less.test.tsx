import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { useState } from "react";
import { expect, it } from "vitest";
import type { Wishes } from "@/core/doors/news/wishes";
import { Less } from "./less";

let now: Wishes["less"];
function Part() {
  const [less, setLess] = useState<Wishes["less"]>([]);
  now = less;
  return <Less repositories={["quay", "pier"]} less={less} onLess={setLess} />;
}

it("makes a repository quieter, offers each once, and gives it up by saying as above", async () => {
  const user = userEvent.setup();
  render(<Part />);
  await user.selectOptions(screen.getByLabelText("Less of"), "pier");
  expect(now).toEqual([{ repository: "pier", way: "page" }]);
  expect([...screen.getByLabelText<HTMLSelectElement>("Less of").options].map(({ text }) => text)).not.toContain(
    "pier",
  );
  await user.selectOptions(screen.getByLabelText("pier"), "not at all");
  expect(now).toEqual([{ repository: "pier", way: "neither" }]);
  await user.selectOptions(screen.getByLabelText("pier"), "as said above");
  expect(now).toEqual([]);
});
