import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { newest } from "@/core/review/state";
import { mergeBase } from "@/git/history/commits";
import { branchCommit, sameTree } from "@/git/repository";
import { loadChangeSet } from "@/store/log";
import type { Person } from "../access/person";
import { folderOf, type Repository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { openWith } from "./open-changes";
import { openChange } from "./revisions/opening";
import { revise } from "./revisions/revising";

/**
 * The page on which somebody reads a branch of their own clone: of the change set that offers it, with what has been committed since as its next revision,
 * or of a new draft; that of the repository where there is nothing to read.
 */
export async function readingOwn(
  app: AppContext,
  person: Person,
  repository: Repository,
  source: string,
  target: string,
): Promise<string> {
  const folder = folderOf(app, repository);
  const page = (number: number) => `/r/${repository.name}/c/${number}`;
  const [open] = await openWith(app.db, repository.id, "source", source);
  const change = open ? await loadChangeSet(app.db, open.id) : null;
  if (change) {
    const [head, onto] = [await branchCommit(folder, source), await branchCommit(folder, change.target)];
    const base = head && onto ? await mergeBase(folder, onto, head) : null;
    if (head && onto && base && head !== newest(change).head)
      await revise(app, person, change, folder, { head, target: onto, base });
    return page(change.number);
  }
  const opened = await openChange(app, person, repository.name, {
    source,
    target,
    title: source,
    description: "",
    draft: true,
  });
  return opened.ok ? page(opened.value.number) : `/r/${repository.name}`;
}

/**
 * The page on which somebody reads what they have not committed yet, on top of a branch: a draft of its own, which is in no ledger and handed over to nobody. What was
 * done since it was read last is its next revision. `head` is a commit of that work.
 */
export async function readingWork(
  app: AppContext,
  person: Person,
  repository: Repository,
  { branch, target, head }: { branch: string; target: string; head: string },
): Promise<Outcome<string>> {
  const folder = folderOf(app, repository);
  const source = `${branch || "detached"}, not committed yet`;
  const onto = await branchCommit(folder, target);
  const base = onto ? await mergeBase(folder, onto, head) : null;
  if (!onto || !base) return refuse("conflict", `What is checked out and ${target} have no history in common.`);
  const facts = { head, target: onto, base };
  const [open] = await openWith(app.db, repository.id, "source", source);
  const change = open ? await loadChangeSet(app.db, open.id) : null;
  const same = change ? await sameTree(folder, newest(change).head, head) : false;
  const read = change
    ? same
      ? done(change)
      : await revise(app, person, change, folder, facts)
    : await openChange(
        app,
        person,
        repository.name,
        {
          source,
          target,
          title: `What is not committed yet on ${branch || "what is checked out"}`,
          description: "",
          draft: true,
        },
        facts,
      );
  return read.ok ? done(`/r/${repository.name}/c/${read.value.number}`) : read;
}
