import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Bench } from "@/server/testing/bench";
import { cloneAt } from "./clone-here";

let bench: Bench;
let work: string;
const here = (target?: string) => cloneAt(work, `${work}/.git`, target);

beforeAll(async () => {
  bench = await Bench.set();
  work = await bench.repository("Quay Side", { main: [{ "a.txt": "1\n" }], "feature/b": [{ "a.txt": "2\n" }] });
  await bench.git(work, "config", "user.name", "Ann  Berg");
  await bench.git(work, "config", "user.email", "Ann.Berg@x.example");
});
afterAll(() => bench.clear());

describe("a clone in which a command is called", () => {
  it("is told by git whose it is, what is checked out, and what that is read against", async () => {
    await bench.git(work, "checkout", "--quiet", "feature/b");
    expect(await here()).toMatchObject({
      ...{ top: work, source: "feature/b", into: "main" },
      owner: { name: "ann-berg", fullName: "Ann  Berg", email: "Ann.Berg@x.example" },
      repository: { defaultBranch: "main" },
    });
    expect(await here("feature/b")).toMatchObject({ into: "feature/b" });
    await expect(here("gone")).rejects.toThrow("There is no branch gone in this clone: git branch gone origin/gone");
  });

  it("is on no branch where a commit alone is checked out", async () => {
    await bench.git(work, "checkout", "--quiet", "--detach", "main");
    expect(await here()).toMatchObject({ source: "", into: "main" });
    await bench.git(work, "checkout", "--quiet", "main");
    expect(await here()).toMatchObject({ source: "main" });
  });

  it("is read against what the remote takes for its branch, and says where that is not here", async () => {
    await bench.git(work, "update-ref", "refs/remotes/origin/feature/b", "main");
    await bench.git(work, "symbolic-ref", "refs/remotes/origin/HEAD", "refs/remotes/origin/feature/b");
    expect(await here()).toMatchObject({ into: "feature/b" });
    await bench.git(work, "update-ref", "refs/remotes/origin/trunk", "main");
    await bench.git(work, "symbolic-ref", "refs/remotes/origin/HEAD", "refs/remotes/origin/trunk");
    expect(await here()).toMatchObject({ into: "main" });
    await bench.git(work, "branch", "--quiet", "-m", "main", "other");
    await expect(here()).rejects.toThrow("There is no branch trunk in this clone: git branch trunk origin/trunk");
  });

  it("is nobody's where git does not know who that is", async () => {
    await bench.git(work, "config", "user.email", "");
    await expect(here("other")).rejects.toThrow("git does not know who you are");
  });
});
