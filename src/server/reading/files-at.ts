import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { FileAt } from "@/core/views/api";
import { filesIn, resolveCommit } from "@/git/repository";
import type { Person } from "../access/person";
import { enter } from "../access/repositories";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { mayServeCommit, noteShown } from "./shown";

/** Files of all trees that are kept, together; more than one tree may have. */
const TREES = shelf<FileAt[]>("trees", 10, { of: (files) => files.length, most: 1_000_000 });

/** All files of a commit, by path; without pointers to other repositories. */
export async function filesAt(
  app: AppContext,
  person: Person,
  repositoryName: string,
  commit: string,
): Promise<Outcome<FileAt[]>> {
  const entered = await enter(app, person, repositoryName);
  if (!entered.ok) return entered;
  const { folder } = entered.value;
  if (!/^[0-9a-f]{40,64}$/.test(commit) || (await resolveCommit(folder, commit)) !== commit)
    return refuse("missing", "There is no such commit.");
  if (!(await mayServeCommit(app, folder, commit))) return refuse("missing", "There is no such commit.");
  const files = await TREES(app).get(`${folder}\0${commit}`, async () => filesIn(folder, commit));
  await noteShown(app, folder, files);
  return done(files);
}
