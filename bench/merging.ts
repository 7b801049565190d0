import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { git, gitText } from "@/git/run";
import { addPerson, findPerson, setRole } from "@/server/access/people";
import { addRepository, folderOf } from "@/server/access/repositories";
import { openApp } from "@/server/app/context";
import { bareSettings } from "@/server/app/settings";
import { carryOut } from "@/server/changes/requests";
import { openChange } from "@/server/changes/revisions/opening";
import { loadChangeSet } from "@/store/log";
import { need } from "./parts";

const TARGETS = 10;
const EACH = 20;
/** So many commands that need to know the gate, which nobody has asked for before. */
const COLD = 50;

/** Two hundred change sets into ten branches, all asked to merge at the same moment: each once, or refused; and the refs agree with the log. */
export async function merging(say: (words: string) => void): Promise<number> {
  process.env.LENS_LOG = "error";
  const folder = mkdtempSync(join(tmpdir(), "lens-merging-"));
  const app = await openApp(bareSettings(join(folder, "data"), process.env.LENS_ROOT ?? process.cwd()));
  try {
    say(`Making ${TARGETS * EACH} change sets …`);
    const work = join(folder, "work");
    mkdirSync(work);
    await git(null, ["init", "--quiet", "--initial-branch=main", "--end-of-options", work]);
    await git(null, ["-C", work, "fast-import", "--quiet"], { input: history() });
    for (const name of ["ada", "ben"]) {
      need(await addPerson(app, { name, fullName: name, email: `${name}@x.example`, password: "long enough" }));
    }
    const { repository } = need(await addRepository(app, "quay", { kind: "folder", path: work }));
    for (const name of ["ada", "ben"]) need(await setRole(app, name, "quay", "keeper"));
    const [ada, ben] = [(await findPerson(app.db, "ada"))!, (await findPerson(app.db, "ben"))!];
    const numbers: number[] = [];
    for (let target = 0; target < TARGETS; target++) {
      for (let i = 0; i < EACH; i++) {
        const request = {
          source: `topic-${target}-${i}`,
          target: `release-${target}`,
          title: "Change",
          description: "",
        };
        const { number } = need(await openChange(app, ada, "quay", request));
        need(
          await carryOut(app, ben, "quay", number, {
            kind: "send-review",
            revision: 1,
            verdict: "approve",
            remark: "",
          }),
        );
        numbers.push(number);
      }
    }
    const waits = await whileOthers(
      () => app.db.selectFrom("people").select("id").execute(),
      () =>
        Promise.all(
          numbers
            .slice(0, COLD)
            .map((number) =>
              carryOut(app, ada, "quay", number, { kind: "merge-when-open", revision: 1, how: "merge", message: null }),
            ),
        ),
    );
    console.log(
      `${COLD} commands with cold gates in ${(waits.took / 1000).toFixed(1)} s; a read beside them waited ${waits.median.toFixed(1)} ms, ${waits.longest.toFixed(1)} at the longest`,
    );
    const began = performance.now();
    const outcomes = await Promise.all(
      numbers.map((number) => carryOut(app, ada, "quay", number, { kind: "merge", revision: 1, message: "m" })),
    );
    const took = performance.now() - began;
    const merged = outcomes.filter(({ ok }) => ok).length;
    const reasons = new Set(outcomes.flatMap((outcome) => (outcome.ok ? [] : [outcome.refusal.reason])));
    const bare = folderOf(app, repository);
    const rows = await app.db.selectFrom("change_sets").select("id").where("state", "=", "merged").execute();
    const told = new Set<string>();
    for (const { id } of rows) told.add((await loadChangeSet(app.db, id))!.settled!.commit!);
    let found = 0;
    for (let target = 0; target < TARGETS; target++) {
      const ids = (await gitText(bare, ["log", "--first-parent", "--format=%H", `main..release-${target}`])).split(
        "\n",
      );
      found += ids.filter((id) => told.has(id)).length;
      if (ids.some((id) => id !== "" && !told.has(id)))
        say(`release-${target} has a commit that the log does not know.`);
    }
    const fsck = await gitText(bare, ["fsck", "--no-dangling"]);
    console.log(
      `${merged} of ${numbers.length} merged in ${(took / 1000).toFixed(1)} s, ${numbers.length - merged} refused${[...reasons].map((words) => `: ${words}`).join("")}`,
    );
    console.log(
      `the log tells of ${told.size}, the branches have ${found} of them; fsck ${fsck === "" ? "is clean" : fsck}`,
    );
    return told.size === found && fsck === "" ? 0 : 1;
  } finally {
    await app.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** For `git fast-import`: a main branch, ten releases of it, and twenty branches for each that add a file. */
function history(): string {
  const commit = (branch: string, from: string | null, file: string) =>
    `commit refs/heads/${branch}\ncommitter T <t@x> 1767600000 +0000\ndata 1\nm\n${from ? `from ${from}\n` : ""}M 644 inline ${file}\ndata 2\nx\n\n`;
  const parts = [commit("main", null, "a.txt")];
  for (let target = 0; target < TARGETS; target++) {
    parts.push(`reset refs/heads/release-${target}\nfrom refs/heads/main\n\n`);
    for (let i = 0; i < EACH; i++) parts.push(commit(`topic-${target}-${i}`, "refs/heads/main", `t${target}/${i}.txt`));
  }
  return parts.join("");
}

/** How long one thing takes, asked again and again while others go on; in milliseconds. */
async function whileOthers(ask: () => Promise<unknown>, others: () => Promise<unknown>) {
  const times: number[] = [];
  let going = true;
  const asking = (async () => {
    while (going) {
      const began = performance.now();
      await ask();
      times.push(performance.now() - began);
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  })();
  const began = performance.now();
  await others();
  const took = performance.now() - began;
  going = false;
  await asking;
  times.sort((a, b) => a - b);
  return { took, median: times[Math.floor(times.length / 2)] ?? 0, longest: times.at(-1) ?? 0 };
}
