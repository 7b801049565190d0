import { afterAll, beforeAll, expect } from "vitest";
import { story } from "@/server/testing/story";
import { loadChangeSet } from "@/store/log";
import { Clones } from "./testing/clones";

const it = story();

/** Cy signs what cannot be so, and the others, who believe his key, read none of it. */
const clones = new Clones();
const { git, sync, within, keyOf, idOf, forge, commit } = clones;
beforeAll(async () => {
  await clones.make();
  for (const name of ["ann", "ben"] as const) await sync(name, "--accept", await keyOf("cy"));
});
afterAll(() => clones.clear());

it("take no revision that hides what it brings, or passes for the work of the one before", async () => {
  await git("cy", "fetch", "--quiet", "origin");
  await git("cy", "checkout", "--quiet", "-B", "sly", "origin/main");
  const main = (await git("cy", "rev-parse", "origin/main")).trim();
  const made = async (text: string) => {
    await commit("cy", "sly.txt", text, text);
    return (await git("cy", "rev-parse", "HEAD")).trim();
  };
  const [first, second] = [await made("nobody is to see this\n"), await made("harmless\n")];
  await git("cy", "push", "--quiet", "origin", "sly");
  await git("cy", "commit", "--quiet", "--amend", "-m", "the same once more");
  const again = (await git("cy", "rev-parse", "HEAD")).trim();
  await git("cy", "push", "--quiet", "origin", "HEAD:sly-again");
  for (const name of ["ann", "ben"] as const) await git(name, "fetch", "--quiet", "origin");
  const opened = { title: "Sly", description: "", source: "sly", target: "main", number: 9 };
  const offer = async (revision: { head: string; target: string; base: string }, target = "main") => {
    const id = await within("cy", async ({ app }) => app.newId());
    const { repository, answers, draft } = { repository: "r", answers: await idOf("cy"), draft: false };
    const data = { ...opened, target, revision, repository, answers, draft };
    return [id, await forge("cy", { kind: "opened", stream: id, data })];
  };
  const [, above] = await offer({ head: second, target: first, base: first });
  const [, between] = await offer({ head: second, target: main, base: first });
  const [honest] = await offer({ head: first, target: main, base: main });
  // Into a branch that is not here any more: nothing is merged into it here, and on its way into another it is measured anew.
  const [chained] = await offer({ head: second, target: first, base: first }, "gone");
  const on = { target: "main", revision: { head: second, target: first, base: first }, same: true };
  const onward = await forge("cy", { kind: "retargeted", stream: chained, data: on });
  const revised = { revision: { head: second, target: main, base: main } };
  const alike = await forge("cy", { kind: "revised", stream: honest, data: { ...revised, same: true } });
  // Nor as one that does not count: signed for somebody else, or of what was withdrawn.
  const onTop = { revision: { head: again, target: main, base: main }, same: true };
  const [another] = await offer({ head: first, target: main, base: main });
  await forge("cy", { kind: "revised", stream: another, by: await idOf("ben"), data: revised });
  const likeOthers = await forge("cy", { kind: "revised", stream: another, data: onTop });
  const [withdrawn] = await offer({ head: first, target: main, base: main });
  await forge("cy", { kind: "withdrawn", stream: withdrawn, data: {} });
  await forge("cy", { kind: "revised", stream: withdrawn, data: revised });
  await forge("cy", { kind: "opened-again", stream: withdrawn, data: {} });
  const likeNone = await forge("cy", { kind: "revised", stream: withdrawn, data: onTop });
  // What is the same as the one before it may say so.
  const [twice] = await offer({ head: second, target: main, base: main });
  await forge("cy", { kind: "revised", stream: twice, data: onTop });
  await sync("cy");
  const said = await sync("ann");
  for (const id of [likeOthers, likeNone])
    expect(said).toContain(`Left out ${id}: it says that it is the work of the revision before it, and is not`);
  expect((await within("ann", ({ app }) => loadChangeSet(app.db, twice)))!.revisions).toMatchObject([
    { head: second, same: false },
    { head: again, same: true },
  ]);
  expect(said).toContain(`Left out ${above}: main does not hold ${first.slice(0, 12)} here`);
  expect(said).toContain(`Left out ${between}: it says another base than its commits have`);
  expect(said).toContain(`Left out ${alike}: it says that it is the work of the revision before it, and is not`);
  // One that is dated before all of it holds up nothing of what comes after it.
  const morning = { revision: 1, verdict: "none", remark: "Good morning.", remarks: [] };
  const early = await forge("cy", { kind: "reviewed", stream: twice, id: `00${twice.slice(2)}`, data: morning });
  await forge("cy", { kind: "reviewed", stream: twice, data: morning });
  await sync("cy");
  expect(await sync("ann")).toMatch(new RegExp(`1 entry came[^]*Left out ${early}: it comes before`));
  expect(await sync("ben")).toMatch(new RegExp(`Left out ${early}: it comes before the change set was opened`));
  expect((await within("ben", ({ app }) => loadChangeSet(app.db, twice)))!.reviews).toHaveLength(1);
  expect(said).toContain(`Left out ${onward}: main does not hold ${first.slice(0, 12)} here`);
  expect((await within("ann", ({ app }) => loadChangeSet(app.db, chained)))!.target).toBe("gone");
  const change = await within("ann", ({ app }) => loadChangeSet(app.db, honest));
  expect(change!.revisions.map(({ head }) => head)).toEqual([first]);
});
