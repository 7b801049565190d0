import { mkdir, readdir, readFile, rm, stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { automatic } from "@/core/doors/mail/answer";
import { baseCommitIn, branchWord, introduction, readPatchSubject } from "@/core/doors/mail/patch";
import { newest } from "@/core/review/state";
import { applySeries, patchIds } from "@/git/apply-series";
import { branchCommit, resolveCommit } from "@/git/repository";
import { git } from "@/git/run";
import { loadChangeSets } from "@/store/log";
import type { Person } from "../access/person";
import { folderOf, type Repository } from "../access/repositories";
import { hashOf } from "../access/secret";
import type { AppContext } from "../app/context";
import { plainMail } from "../app/read-mail";
import { afterPush } from "./pushing/after";
import { beforePush } from "./pushing/before";

/** What became of a mailed patch, in sentences for who sent it; nothing while others of its series are missing. */
export type PatchTaken =
  | { kind: "waits" }
  | { kind: "taken" | "returned"; says: string[] }
  | { kind: "dropped"; why: string };

/** A series that is not whole after so long is forgotten, in milliseconds; and it has so many patches at most. */
const FORGOTTEN = 7 * 24 * 3_600_000;
const LONGEST = 200;

/**
 * Takes a mail of a series as `git send-email` sends it. Once all of the series has come it is applied, pushed as its writer to a branch of its own, and
 * offered; the next version of it, known by its title or by what it changes, is the next revision. All rules of a push hold.
 */
export async function takePatch(
  app: AppContext,
  raw: Buffer,
  { person, repository }: { person: Person; repository: Repository },
): Promise<PatchTaken> {
  const mail = await plainMail(raw);
  const head = new Map(mail.headerLines.map(({ key, line }) => [key, line.slice(line.indexOf(":") + 1)]));
  const machine = automatic(head);
  if (machine) return { kind: "dropped", why: machine };
  const from = mail.from?.value.map(({ address }) => address?.toLowerCase()) ?? [];
  if (from.length !== 1 || from[0] !== person.email.toLowerCase())
    return { kind: "dropped", why: "it does not come from the address of whose patches are taken here" };
  const subject = readPatchSubject(mail.subject ?? "");
  if (!subject)
    return { kind: "returned", says: [`“${mail.subject ?? ""}” is no patch: git send-email makes mails that are.`] };
  if (subject.of > LONGEST) return { kind: "returned", says: [`A series has ${LONGEST} patches at most.`] };
  const references = [mail.references ?? []].flat();
  const thread = references[0] ?? mail.inReplyTo ?? mail.messageId ?? hashOf(raw.toString("latin1"));
  const root = thread.replace(/[<>\s]/g, "");
  const series = hashOf(`${person.id} ${repository.id} ${root} ${subject.version} ${subject.of}`).slice(0, 32);
  return app.inTurn(`series ${series}`, async () => {
    const place = join(app.settings.data, "incoming", "series", series);
    await mkdir(place, { recursive: true });
    await writeFile(join(place, `${String(subject.at).padStart(4, "0")}.eml`), raw);
    const names = (await readdir(place)).sort();
    const patches = names.filter((name) => name !== "0000.eml");
    if (patches.length < subject.of) {
      await forgetOld(app);
      return { kind: "waits" };
    }
    const mails = await Promise.all(patches.map((name) => readFile(join(place, name))));
    const letter = names.includes("0000.eml") ? await readFile(join(place, "0000.eml")) : null;
    try {
      return await offer(app, person, repository, mails, letter);
    } finally {
      await rm(place, { recursive: true, force: true });
    }
  });
}

async function offer(
  app: AppContext,
  person: Person,
  repository: Repository,
  mails: readonly Buffer[],
  letter: Buffer | null,
): Promise<PatchTaken> {
  const folder = folderOf(app, repository);
  const first = await plainMail(letter ?? mails[0]);
  const title = readPatchSubject(first.subject ?? "")?.title ?? "A series";
  const texts = await Promise.all(
    [...(letter ? [letter] : []), ...mails].map(async (one) => (await plainMail(one)).text ?? ""),
  );
  const said = texts.map(baseCommitIn).find((base) => base !== null);
  const known = said ? await resolveCommit(folder, said) : null;
  const base = known ?? (await branchCommit(folder, repository.defaultBranch));
  if (!base)
    return { kind: "returned", says: [`${repository.name} is empty: there is nothing that a patch could stand on.`] };
  const applied = await applySeries(folder, base, mails, { name: person.fullName, email: person.email });
  if (!applied.ok) return { kind: "returned", says: [applied.refusal.reason, "Nothing of the series was taken."] };
  const next = applied.value;
  const branch =
    (await offeredBefore(app, person, repository, folder, title, base, next)) ??
    (await freeBranch(folder, person, title));
  const ref = `refs/heads/${branch}`;
  const old = (await branchCommit(folder, branch)) ?? "0".repeat(next.length);
  const isNew = /^0+$/.test(old);
  const description = letter ? introduction(texts[0]) : "";
  const options = isNew ? [`title=${title}`, ...(description ? [`description=${description}`] : [])] : [];
  const push = {
    person: person.name,
    from: "mail",
    repository: repository.name,
    updates: [{ ref, old, next }],
    options,
  };
  const refusal = await beforePush(app, push);
  if (refusal) return { kind: "returned", says: [refusal, "Nothing of the series was taken."] };
  await git(folder, ["update-ref", "-m", "mailed", "--end-of-options", ref, next, old]);
  return { kind: "taken", says: await afterPush(app, push) };
}

/** The branch of an open change set of theirs that this is the next version of: it has the same title, or a commit that changes the same. */
async function offeredBefore(
  app: AppContext,
  person: Person,
  repository: Repository,
  folder: string,
  title: string,
  base: string,
  next: string,
): Promise<string | null> {
  const rows = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository.id)
    .where("author", "=", person.id)
    .where("state", "in", ["open", "draft"])
    .orderBy("number", "desc")
    .limit(50)
    .execute();
  const changes = await loadChangeSets(
    app.db,
    rows.map(({ id }) => id),
  );
  const same = changes.find((change) => change.title === title);
  if (same) return same.source;
  const ids = await patchIds(folder, base, next);
  for (const change of changes) {
    const revision = newest(change);
    for (const id of await patchIds(folder, revision.base, revision.head)) if (ids.has(id)) return change.source;
  }
  return null;
}

async function freeBranch(folder: string, person: Person, title: string): Promise<string> {
  const name = `mail/${person.name}/${branchWord(title)}`;
  for (let n = 1; ; n++) {
    const one = n === 1 ? name : `${name}-${n}`;
    if ((await branchCommit(folder, one)) === null) return one;
  }
}

/** Lets go of series that never became whole. */
async function forgetOld(app: AppContext): Promise<void> {
  const place = join(app.settings.data, "incoming", "series");
  for (const name of await readdir(place)) {
    const { mtimeMs } = await stat(join(place, name)).catch(() => ({ mtimeMs: Date.now() }));
    if (Date.now() - mtimeMs > FORGOTTEN) await rm(join(place, name), { recursive: true, force: true });
  }
}
