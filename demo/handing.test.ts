import { expect, it } from "vitest";
import { handOver } from "./handing";

it("hands a review of two rounds back and forth over a bare repository, and both end with the same", async () => {
  const said: string[] = [];
  const { anders, rosa } = await handOver((words) => said.push(words));
  expect(rosa).toEqual(anders);
  expect(anders.revisions).toHaveLength(2);
  expect(anders.reviews.map(({ verdict }) => verdict)).toEqual(["request-changes", "approve"]);
  expect(anders.leftOut).toEqual([]);
  const words = said.join("\n");
  expect(words).not.toMatch(/Left out|Not believed/);
  // git alone tells of it, by who did it.
  expect(words).toMatch(/Rosa Vance: .*approves r2/);
});
