import { join } from "node:path";
import { git } from "@/git/run";
import { addPerson, findPerson, setRole } from "@/server/access/people";
import { addRepository } from "@/server/access/repositories";
import { openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { openChange } from "@/server/changes/revisions/opening";
import { need } from "./parts";

/** How many change sets are open in the full house: the first is small, the second changes many files. */
export const FULL = 600;
/** How many files the second one changes. */
export const LARGE = 10_000;

/** Makes an installation in `FOLDER/data`: a repository `quay` with so many open change sets by ada, and kit who keeps it. */
export async function makeFullHouse(folder: string, root: string, open = FULL, files = LARGE): Promise<void> {
  const work = join(folder, "work.git");
  await git(null, ["init", "--quiet", "--bare", "--initial-branch=main", work]);
  await git(work, ["fast-import", "--quiet"], { input: history(open, files) });
  const app = await openApp(bareSettings(join(folder, "data"), root));
  const ada = { name: "ada", fullName: "Ada Example", email: "ada@x.example", password: "long enough" };
  need(await addPerson(app, ada));
  need(await addPerson(app, { ...ada, name: "kit", fullName: "Kit Example", email: "kit@x.example" }));
  need(await addRepository(app, "quay", { kind: "folder", path: work }));
  need(await setRole(app, "ada", "quay", "contributor"));
  need(await setRole(app, "kit", "quay", "keeper"));
  const person = (await findPerson(app.db, "ada"))!;
  const offer = async (source: string) =>
    need(await openChange(app, person, "quay", { source, target: "main", title: `Offer ${source}`, description: "" }));
  await offer("small-0");
  await offer("large");
  for (let n = 1; n < open - 1; n++) await offer(`small-${n}`);
  await app.close();
}

/** For `git fast-import`: a main branch with many files, one branch that changes them all, and many that change one. */
function history(open: number, files: number): string {
  const lines: string[] = [];
  const data = (text: string) => lines.push(`data ${Buffer.byteLength(text)}`, text);
  const commit = (branch: string, from: string | null) => {
    lines.push(`commit refs/heads/${branch}`, "committer T <t@x> 1700000000 +0000");
    data(branch);
    if (from) lines.push(`from ${from}`);
  };
  const file = (path: string, text: string) => {
    lines.push(`M 100644 inline ${path}`);
    data(text);
  };
  const text = (i: number, more: string) =>
    Array.from({ length: 12 }, (_, l) => `  line ${l} of ${i}${l === 5 ? more : ""}`).join("\n");
  commit("main", null);
  for (let i = 0; i < files; i++) file(`part-${i % 100}/berth-${i}.txt`, text(i, ""));
  commit("large", "refs/heads/main");
  for (let i = 0; i < files; i++) file(`part-${i % 100}/berth-${i}.txt`, text(i, " edited"));
  for (let n = 0; n < open; n++) {
    commit(`small-${n}`, "refs/heads/main");
    const at = (n % 100) * 100 < files ? (n % 100) * 100 : 0;
    file(`part-0/berth-${at}.txt`, text(n, ` of ${n}`));
  }
  return `${lines.join("\n")}\n`;
}
