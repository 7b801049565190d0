import { randomBytes } from "node:crypto";
import { existsSync, symlinkSync } from "node:fs";
import { done, type Outcome } from "@/core/plain/outcome";
import type { RepositoriesTable } from "@/store/tables/repositories";
import { addPerson, findPerson } from "../access/people";
import type { Person } from "../access/person";
import { findRepository, folderOf, type Repository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { beginRules } from "../rules/first-rules";

/** Who works in a clone, as git's own settings name them. */
export interface CloneOwner {
  name: string;
  fullName: string;
  email: string;
}

/**
 * Makes a clone itself the repository of an installation, without a copy, and whom it belongs to the one person of it. What is there from before stays;
 * the clone may have been moved since.
 */
export async function adoptClone(
  app: AppContext,
  clone: { folder: string; name: string; defaultBranch: string },
  owner: CloneOwner,
): Promise<Outcome<{ repository: Repository; person: Person }>> {
  if (!(await findPerson(app.db, owner.name))) {
    const password = randomBytes(24).toString("base64");
    const added = await addPerson(app, { ...owner, password, administrator: true });
    if (!added.ok) return added;
  }
  if (!(await findRepository(app.db, clone.name))) {
    const row: RepositoriesTable = {
      id: app.newId(),
      name: clone.name,
      default_branch: clone.defaultBranch,
      created_at: app.now(),
      description: "This clone.",
      open_to_all: 0,
      archived_at: null,
      deleted_at: null,
      ledger: 1,
    };
    await app.db.transaction().execute(async (tx) => {
      await tx.insertInto("repositories").values(row).execute();
      await beginRules(tx, { id: row.id, defaultBranch: row.default_branch }, app.now());
    });
  }
  const repository = (await findRepository(app.db, clone.name))!;
  const place = folderOf(app, repository);
  if (!existsSync(place)) symlinkSync(clone.folder, place);
  return done({ repository, person: (await findPerson(app.db, owner.name))! });
}
