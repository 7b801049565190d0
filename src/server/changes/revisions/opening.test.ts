import { afterAll, beforeAll, describe, expect } from "vitest";
import { removeSource } from "../../refs/tidy";
import { saveRules } from "../../rules/rules";
import { Bench, value } from "../../testing/bench";
import { story } from "../../testing/story";
import { openChange, previewChange } from "./opening";

const it = story();
let bench: Bench;
const who = (name: string) => bench.people.get(name)!;

beforeAll(async () => {
  bench = await Bench.set();
  const work = await bench.repository("quay", {
    main: [{ "a.txt": "a\n", ".lens/reason.md": "What for?\n\nWhat could go wrong?\n" }],
    one: [{ "plan/b.txt": "b\n" }],
    several: [{ "c.txt": "c\n" }, { "d.txt": "d\n" }],
  });
  await bench.git(work, "checkout", "--quiet", "one");
  await bench.git(work, "commit", "--quiet", "--amend", "-m", "Plan for b\n\nSince a is full.");
  await bench.git(work, "checkout", "--quiet", "main");
  await bench.takeIn("quay", work);
  await bench.person("ada", { quay: "contributor" });
  await bench.person("ben", { quay: "keeper" });
  await bench.person("cy", { quay: "contributor" });
  await bench.person("rea", { quay: "reader" });
  const rule = { branches: "main", stewards: [{ paths: "plan/**", of: ["ada", "cy"] }] };
  value(await saveRules(bench.app, who("ben"), "quay", { rules: [rule] }, "", null));
});
afterAll(() => bench.clear());

describe("opening", () => {
  it("proposes the reason of a single commit, a template for several, and stewards of what changes", async () => {
    const one = value(await previewChange(bench.app, who("ada"), "quay", "one", "main"));
    expect(one.description).toBe("Since a is full.");
    // Who opens it is not asked; a reader could not approve.
    expect(one.reviewers.map(({ id, steward }) => [id, steward])).toEqual([
      [who("ben").id, null],
      [who("cy").id, "plan/**"],
    ]);
    const several = value(await previewChange(bench.app, who("ada"), "quay", "several", "main"));
    expect(several.description).toBe("What for?\n\nWhat could go wrong?\n");
    expect(several.reviewers.every(({ steward }) => steward === null)).toBe(true);
  });

  it("asks people in one with it, or does neither", async () => {
    const request = { source: "one", target: "main", title: "Plan for b", description: "" };
    const asking = (...invited: string[]) =>
      openChange(bench.app, who("ada"), "quay", { ...request, invited: invited.map((name) => who(name).id) });
    for (const wrong of ["ada", "rea"]) expect((await asking("cy", wrong)).ok).toBe(false);
    const change = value(await asking("cy"));
    expect(change.number).toBe(1);
    expect(change.asked).toMatchObject([{ person: who("cy").id }]);
  });

  it("lets the branch of a settled change set go, and no other", async () => {
    const remove = async (by: string) => {
      const { change, folder } = await bench.change("quay", 1);
      const outcome = await removeSource(bench.app, who(by), change, folder);
      return outcome.ok ? "gone" : outcome.refusal.reason;
    };
    expect(await remove("cy")).toMatch(/Only the author or a keeper/);
    expect(await remove("ada")).toMatch(/It is not settled yet/);
    value(await bench.do("ada", "quay", 1, { kind: "withdraw" }));
    const { folder, change } = await bench.change("quay", 1);
    await bench.git(folder, "update-ref", "refs/heads/one", "several");
    expect(await remove("ada")).toBe("Something came to one since: that would be lost.");
    await bench.git(folder, "update-ref", "refs/heads/one", change.revisions[0].head);
    value(
      await openChange(bench.app, who("ada"), "quay", {
        source: "several",
        target: "one",
        title: "On top",
        description: "",
      }),
    );
    expect(await remove("ada")).toBe("Change set 2 is about one, too.");
    value(await bench.do("ada", "quay", 2, { kind: "withdraw" }));
    expect(await remove("ada")).toBe("gone");
    expect(await remove("ada")).toBe("one is gone already.");
  });
});
